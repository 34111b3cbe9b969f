import { randomStream, type NetworkRoom, type NetworkTask } from '../../numeric/index.ts';

export interface TrainRules {
  /** Over which the steps become shorter. */
  epochs: number;
  /** After which it ends. */
  until: number;
  decay: number;
  rate: number;
  seed: number;
  /** Parameters by which everybody gets what all have: constants begin there. */
  plain: Float64Array;
}

/** Mean losses after each epoch, the first before any. */
export interface Trained {
  parameters: Float64Array;
  learned: number[];
  /** In patients that are not learned from; empty where there are none. */
  watched: number[];
}

/** Patients whose loss is looked at after each epoch, at most. */
const lookedAt = 4000;
/** Epochs without a smaller loss in the watched after which no more are tried. */
export const patience = 30;

/**
 * Trains from weights drawn by chance (Glorot & Bengio 2010, AISTATS 9:249-256), in batches whose order is
 * drawn anew each epoch.
 *
 * @param learn places of the patients learned from, in an order that does not depend on that of the table
 * @param watch those whose loss says when to stop; learns to the end where there are none
 * @param after called with what is done and the losses until then, after each epoch
 */
export function train(
  room: NetworkRoom,
  task: NetworkTask,
  learn: Int32Array,
  watch: Int32Array,
  start: number,
  { epochs, until, decay, rate, seed, plain }: TrainRules,
  after?: (share: number, soFar: Pick<Trained, 'learned' | 'watched'>) => void,
): Trained {
  const draw = randomStream(seed, `network, start ${start}`);
  beginAt(room, task.sizes, plain, decay, draw);
  const order = learn.slice();
  const some = learn.length > lookedAt ? everyOf(learn) : learn;
  const theirs = watch.length > lookedAt ? everyOf(watch) : watch;
  const learned = [meanLoss(room, task, some)];
  const watched = watch.length > 0 ? [meanLoss(room, task, theirs)] : [];
  let best = 0;
  for (let epoch = 1; epoch <= until; epoch++) {
    for (let i = order.length - 1; i > 0; i--) {
      const j = Math.floor(draw.uniform() * (i + 1));
      [order[i], order[j]] = [order[j], order[i]];
    }
    room.pass(order, rateAt(rate, epoch - 1, epochs), rateAt(rate, epoch, epochs));
    learned.push(meanLoss(room, task, some));
    if (watch.length > 0) {
      watched.push(meanLoss(room, task, theirs));
      if (watched[epoch] < watched[best]) best = epoch;
    }
    after?.(epoch / until, { learned, watched });
    if (watch.length > 0 && epoch - best >= patience) break;
  }
  return { parameters: room.parameters.slice(), learned, watched };
}

/** Falls evenly to a twentieth. */
const rateAt = (rate: number, epoch: number, epochs: number): number =>
  rate * (1 - 0.95 * (epoch / epochs));

function beginAt(
  room: NetworkRoom,
  sizes: number[],
  plain: Float64Array,
  decay: number,
  draw: { uniform: () => number },
): void {
  const { parameters, decays } = room;
  room.begin();
  let at = 0;
  for (let l = 1; l < sizes.length; l++) {
    const reach = Math.sqrt(6 / (sizes[l - 1] + sizes[l]));
    for (let u = 0; u < sizes[l]; u++) {
      decays[at] = 0;
      parameters[at] = plain[at++];
      for (let j = 0; j < sizes[l - 1]; j++) {
        decays[at] = decay;
        parameters[at++] = reach * (2 * draw.uniform() - 1);
      }
    }
  }
}

const everyOf = (rows: Int32Array): Int32Array => {
  const every = Math.ceil(rows.length / lookedAt);
  return rows.filter((_, i) => i % every === 0);
};

/** Log loss, or squared error, by the parameters that the room has. */
export function meanLoss(
  room: NetworkRoom,
  { kind, weights }: NetworkTask,
  rows: Int32Array,
): number {
  const given = room.given(rows);
  let [sum, total] = [0, 0];
  for (let i = 0; i < rows.length; i++) {
    const weight = weights[rows[i]];
    sum += weight * (kind === 'number' ? given[i] : -Math.log(Math.max(given[i], 1e-300)));
    total += weight;
  }
  return sum / total;
}
