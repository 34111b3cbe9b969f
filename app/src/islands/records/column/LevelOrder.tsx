import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { GripVertical } from 'lucide-react';
import type { KeyboardEvent } from 'react';
import styles from './Column.module.css';

interface Props {
  levels: string[];
  onChange: (levels: string[]) => void;
}

/** Levels in their order, moved by dragging or by the arrow keys. */
export function LevelOrder({ levels, onChange }: Props) {
  const sensors = useSensors(useSensor(PointerSensor), useSensor(KeyboardSensor));
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    onChange(arrayMove(levels, levels.indexOf(String(active.id)), levels.indexOf(String(over.id))));
  };
  const move = (from: number, step: number) => {
    const to = from + step;
    if (to >= 0 && to < levels.length) onChange(arrayMove(levels, from, to));
  };
  return (
    <DndContext
      id="level-order"
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={drop}
    >
      <SortableContext items={levels} strategy={verticalListSortingStrategy}>
        <ol className={styles.levels} aria-label="Levels in their order">
          {levels.map((level, i) => (
            <Level key={level} level={level} onMove={(step) => move(i, step)} />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

function Level({ level, onMove }: { level: string; onMove: (step: number) => void }) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id: level });
  const press = (event: KeyboardEvent) => {
    const step = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : 0;
    if (step === 0) return;
    event.preventDefault();
    onMove(step);
  };
  return (
    <li
      ref={setNodeRef}
      tabIndex={0}
      style={{
        transform: transform ? `translateY(${transform.y}px)` : undefined,
        transition,
        zIndex: isDragging ? 1 : undefined,
      }}
      onKeyDown={press}
      onPointerDown={listeners?.onPointerDown as React.PointerEventHandler | undefined}
    >
      <GripVertical size={13} aria-hidden="true" />
      {level}
    </li>
  );
}
