/** The parts that leave two folds out: each tells what the choice needs in both of them. */
export const pairsOfFolds = (count: number): { name: string; folds: [number, number] }[] =>
  Array.from({ length: count }, (_, one) =>
    Array.from({ length: count - one - 1 }, (__, k): { name: string; folds: [number, number] } => ({
      name: `folds ${one + 1} and ${one + k + 2}`,
      folds: [one, one + k + 1],
    })),
  ).flat();
