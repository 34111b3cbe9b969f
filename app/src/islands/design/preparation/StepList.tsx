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
import { GripVertical, Pencil, X } from 'lucide-react';
import type { KeyboardEvent } from 'react';
import { stepOf, usualSteps, type ArrangedStep } from '@rook-scale/core/preparation';
import { stepText } from './step-text.ts';
import styles from './Preparation.module.css';

interface Props {
  steps: ArrangedStep[];
  /** Place of the step that is shown, among all. */
  shown: number;
  labelOf: (column: string) => string;
  onShow: (place: number) => void;
  onChange: (steps: ArrangedStep[]) => void;
  onEdit: (place: number) => void;
}

/** The steps in their order: the analyst's, moved by dragging or with Alt and the arrow keys, then those that end every preparation. */
export function StepList({ steps, shown, labelOf, onShow, onChange, onEdit }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    onChange(arrayMove(steps, Number(active.id), Number(over.id)));
  };
  const move = (from: number, by: number) => {
    const to = from + by;
    if (to < 0 || to >= steps.length) return;
    onChange(arrayMove(steps, from, to));
    onShow(to);
  };
  return (
    <DndContext id="steps" sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <SortableContext
        items={steps.map((_, i) => String(i))}
        strategy={verticalListSortingStrategy}
      >
        <ol className={styles.steps} aria-label="Steps in their order">
          {steps.map((step, i) => (
            <Arranged
              key={i}
              place={i}
              step={step}
              shown={i === shown}
              text={stepText(step, labelOf)}
              onShow={() => onShow(i)}
              onMove={(by) => move(i, by)}
              onEdit={() => onEdit(i)}
              onRemove={() => onChange(steps.filter((_, j) => j !== i))}
            />
          ))}
          {usualSteps.map((id, i) => {
            const place = steps.length + i;
            return (
              <li key={id} className={styles.usual} data-shown={place === shown}>
                <button
                  type="button"
                  className={styles.stepName}
                  aria-pressed={place === shown}
                  onClick={() => onShow(place)}
                >
                  <strong>{stepOf(id).name}</strong> <span>{stepOf(id).about}</span>
                </button>
              </li>
            );
          })}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

interface ArrangedProps {
  place: number;
  step: ArrangedStep;
  text: string;
  shown: boolean;
  onShow: () => void;
  onMove: (by: number) => void;
  onEdit: () => void;
  onRemove: () => void;
}

function Arranged({ place, step, text, shown, onShow, onMove, onEdit, onRemove }: ArrangedProps) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({
    id: String(place),
  });
  const { name } = stepOf(step.step);
  const press = (event: KeyboardEvent) => {
    if (event.key === 'Delete') onRemove();
    if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
    event.preventDefault();
    onMove(event.key === 'ArrowUp' ? -1 : 1);
  };
  return (
    <li
      ref={setNodeRef}
      data-shown={shown}
      style={{
        transform: transform ? `translateY(${transform.y}px)` : undefined,
        transition,
        zIndex: isDragging ? 1 : undefined,
      }}
    >
      <span
        className={styles.grip}
        title="Drag to another place; or Alt with the arrow keys"
        onPointerDown={listeners?.onPointerDown as React.PointerEventHandler | undefined}
      >
        <GripVertical size={14} aria-hidden="true" />
      </span>
      <button
        type="button"
        className={styles.stepName}
        aria-pressed={shown}
        aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown Delete"
        onClick={onShow}
        onKeyDown={press}
      >
        <strong>{name}</strong> <span>{text}</span>
      </button>
      <button
        type="button"
        className={styles.act}
        aria-label={`Change step ${place + 1}, ${name}`}
        onClick={onEdit}
      >
        <Pencil size={13} aria-hidden="true" />
      </button>
      <button
        type="button"
        className={styles.act}
        aria-label={`Take away step ${place + 1}, ${name}`}
        onClick={onRemove}
      >
        <X size={14} aria-hidden="true" />
      </button>
    </li>
  );
}
