/** How much slower than usual this machine is: `npm test` measures it at its start, and limits of time follow. */
export const pace = Number(process.env.PACE ?? '1');
