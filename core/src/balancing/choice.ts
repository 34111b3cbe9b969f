import * as z from 'zod';

/** How learning patients are balanced, for an outcome of yes or no; everybody else stays as they are. */
export const balancingSchema = z.discriminatedUnion('way', [
  z.object({ way: z.literal('none') }),
  /** Cases weigh more, others less. */
  z.object({ way: z.literal('weights'), share: shareOfCases() }),
  /** Some of those who are no cases are not learned from. */
  z.object({ way: z.literal('fewer others'), share: shareOfCases() }),
  /** Cases are learned from several times. */
  z.object({ way: z.literal('copies of cases'), share: shareOfCases() }),
  /** Cases are made up between a case and one of the cases nearest to it. */
  z.object({
    way: z.literal('cases in between'),
    share: shareOfCases(),
    neighbours: z.number().int().min(1).max(50).default(5),
  }),
]);
export type Balancing = z.infer<typeof balancingSchema>;
export type BalancingWay = Balancing['way'];

export const balancingWays: { [Way in BalancingWay]: { name: string; about: string } } = {
  none: { name: 'none', about: 'Patients are learned from as they came.' },
  weights: { name: 'weights', about: 'Each case weighs more, each of the others less.' },
  'fewer others': {
    name: 'fewer of the others',
    about: 'Some who are no cases are left out of learning, by chance.',
  },
  'copies of cases': {
    name: 'copies of cases',
    about: 'Cases are drawn again, by chance, and learned from several times.',
  },
  'cases in between': {
    name: 'cases in between',
    about: 'New cases are made between a case and one of the cases nearest to it.',
  },
};

/** The share that cases are to have of what is learned from. */
function shareOfCases() {
  return z.number().min(0.01).max(0.9).default(0.5);
}
