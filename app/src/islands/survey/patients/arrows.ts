import type { Plugin } from 'chart.js';
import type { PatientMap } from '@rook-scale/core/survey';

const arrowsShown = 8;

/** Inputs by the length of their arrow in these two components. */
export function longest({ loadings, inputs }: PatientMap, x: number, y: number): number[] {
  const length = (i: number) => Math.hypot(loadings[x][i], loadings[y][i]);
  return inputs.map((_, i) => i).sort((a, b) => length(b) - length(a));
}

/** The longest loadings as arrows from the middle of the map, named at their heads. */
export function arrowsPlugin(
  map: PatientMap,
  x: number,
  y: number,
  inputName: (i: number) => string,
): Plugin<'line' | 'bar' | 'scatter'> {
  const shown = longest(map, x, y).slice(0, arrowsShown);
  const reach = Math.hypot(map.loadings[x][shown[0]], map.loadings[y][shown[0]]);
  return {
    id: 'loadings',
    afterDatasetsDraw({ ctx, scales, chartArea }) {
      const [middleX, middleY] = [scales.x.getPixelForValue(0), scales.y.getPixelForValue(0)];
      const { left, right, top, bottom } = chartArea;
      // As long as the frame allows in the direction of every one of them.
      const room = Math.min(
        0.42 * Math.min(chartArea.width, chartArea.height),
        ...shown.flatMap((i) => {
          const [alongX, alongY] = [map.loadings[x][i] / reach, -map.loadings[y][i] / reach];
          return [
            alongX === 0 ? Infinity : ((alongX > 0 ? right - 8 : left + 8) - middleX) / alongX,
            alongY === 0 ? Infinity : ((alongY > 0 ? bottom - 8 : top + 8) - middleY) / alongY,
          ];
        }),
      );
      ctx.save();
      ctx.beginPath();
      ctx.rect(chartArea.left, chartArea.top, chartArea.width, chartArea.height);
      ctx.clip();
      ctx.font = "12px 'Atkinson Hyperlegible Next Variable', sans-serif";
      const heads = shown.map((i) => ({
        name: inputName(i),
        x: middleX + (room * map.loadings[x][i]) / reach,
        y: middleY - (room * map.loadings[y][i]) / reach,
      }));
      for (const head of heads) drawArrow(ctx, middleX, middleY, head.x, head.y);
      for (const side of [true, false]) {
        const mine = heads.filter((head) => head.x >= middleX === side);
        for (const { name, x: atX, y: atY } of apart(mine, chartArea))
          writeName(ctx, name, atX, atY, side, chartArea);
      }
      ctx.restore();
    },
  };
}

const lineHeight = 15;

/** The names of one side moved apart until none covers another, keeping their order and their middle. */
function apart<Head extends { y: number }>(
  heads: Head[],
  { top, bottom }: { top: number; bottom: number },
): Head[] {
  const placed = [...heads].sort((a, b) => a.y - b.y).map((head) => ({ ...head }));
  for (let round = 0; round < 40; round++)
    for (let i = 1; i < placed.length; i++) {
      const short = lineHeight - (placed[i].y - placed[i - 1].y);
      if (short <= 0) continue;
      placed[i - 1].y -= short / 2;
      placed[i].y += short / 2;
    }
  // Kept within the frame: pushed in from the top, then from the bottom.
  placed.forEach((head, i) => {
    head.y = Math.max(head.y, top + 9 + i * lineHeight);
  });
  placed.forEach((head, i) => {
    head.y = Math.min(head.y, bottom - 9 - (placed.length - 1 - i) * lineHeight);
  });
  return placed;
}

function drawArrow(
  ctx: CanvasRenderingContext2D,
  fromX: number,
  fromY: number,
  toX: number,
  toY: number,
) {
  const angle = Math.atan2(toY - fromY, toX - fromX);
  ctx.strokeStyle = '#171a21';
  ctx.lineWidth = 1.4;
  ctx.beginPath();
  ctx.moveTo(fromX, fromY);
  ctx.lineTo(toX, toY);
  for (const turn of [2.7, -2.7]) {
    ctx.moveTo(toX, toY);
    ctx.lineTo(toX + 7 * Math.cos(angle + turn), toY + 7 * Math.sin(angle + turn));
  }
  ctx.stroke();
}

function writeName(
  ctx: CanvasRenderingContext2D,
  name: string,
  x: number,
  y: number,
  toRight: boolean,
  area: { left: number; right: number },
) {
  const shown = shortened(ctx, name, (area.right - area.left) / 2.5);
  const { width } = ctx.measureText(shown);
  const wanted = toRight ? x + 5 : x - width - 5;
  const left = Math.max(area.left + 2, Math.min(area.right - width - 2, wanted));
  // On white, so that the name can be read above the patients.
  ctx.fillStyle = 'rgb(255 255 255 / 0.82)';
  ctx.fillRect(left - 2, y - 8, width + 4, 16);
  ctx.fillStyle = '#171a21';
  ctx.textBaseline = 'middle';
  ctx.fillText(shown, left, y);
}

/** The text cut in its middle where it is wider than the room: names often differ at their end only. */
function shortened(ctx: CanvasRenderingContext2D, text: string, room: number): string {
  if (ctx.measureText(text).width <= room) return text;
  for (let kept = text.length - 1; kept > 6; kept--) {
    const start = Math.ceil(kept * 0.6);
    const cut = `${text.slice(0, start)}…${text.slice(text.length - (kept - start))}`;
    if (ctx.measureText(cut).width <= room) return cut;
  }
  return `${text.slice(0, 6)}…`;
}
