/** Ticks of an axis that counts: at whole numbers only, at most so many. */
export function wholeTicks(from: number, to: number, most = 12) {
  const step = Math.max(1, Math.ceil((to - from + 1) / most));
  return {
    ticks: { callback: (value: string | number) => String(value) },
    afterBuildTicks: (axis: { ticks: { value: number }[] }) => {
      axis.ticks = Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) => ({
        value: from + i * step,
      }));
    },
  };
}
