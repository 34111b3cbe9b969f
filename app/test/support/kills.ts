import { setTimeout as wait } from 'node:timers/promises';
import { toCsv, developmentCohort, nextWeekList } from '@rook-scale/demo';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { startDatabase, type Database } from '../../../scripts/database.mjs';
import { inconsistencies } from './check.ts';
import { Client } from './client.ts';
import { freshProduct, type FreshProduct } from './fresh-product.ts';
import { numbersFrom } from './hostile-files.ts';
import { pace } from './pace.ts';

/** What came of killing processes at moments taken by chance. */
export interface Killed {
  kills: number;
  /** What did not belong together after one, and after which act. */
  inconsistent: string[];
  /** Acts whose study did not come to rest again. */
  stuck: string[];
  /** Longest time until everything answered again, in milliseconds. */
  longestAway: number;
}

const victims = ['web', 'worker', 'database'] as const;

/**
 * Kills web server, worker or database while something is changed, so many times, and looks through
 * the whole database after each. The same seed kills at the same places of the list of acts; the
 * moments depend on the machine.
 */
export async function killAtRandom(seed: number, kills: number): Promise<Killed> {
  const next = numbersFrom(seed);
  const name = `test-kill-postgres-${seed}`;
  let database: Database = await startDatabase(name);
  let again: Promise<unknown> = Promise.resolve();
  const product = await freshProduct({ demo: false, cluster: database.url });
  const client = new Client(product.address);
  const killed: Killed = { kills: 0, inconsistent: [], stuck: [], longestAway: 0 };
  const kill = (victim: (typeof victims)[number]) => {
    if (victim === 'database') {
      database.stop('immediate');
      again = startDatabase(name, [], database.port).then((started) => (database = started));
    } else process.kill(victim === 'web' ? product.web.pid : product.workers[0].pid, 'SIGKILL');
  };
  try {
    const study = await prepared(client);
    const acts = actsOn(client, study, next);
    while (killed.kills < kills) {
      const act = acts[Math.floor(next() * acts.length)];
      const victim = victims[Math.floor(next() * victims.length)];
      const work = act.run().catch(() => undefined);
      await wait(next() * act.milliseconds);
      kill(victim);
      killed.kills++;
      const begun = Date.now();
      await Promise.all([work, again]);
      await answering(product);
      killed.longestAway = Math.max(killed.longestAway, Date.now() - begun);
      const what = `${act.name}, ${victim} killed (kill ${killed.kills})`;
      for (const one of await inconsistencies(product.databaseUrl))
        killed.inconsistent.push(`${what}: ${one.what}`);
      if (!(await atRest(client, study))) killed.stuck.push(what);
      for (const one of await inconsistencies(product.databaseUrl))
        killed.inconsistent.push(`${what}, at rest: ${one.what}`);
    }
    return killed;
  } finally {
    await product.stop();
    database.stop();
  }
}

async function prepared(client: Client): Promise<string> {
  const study = await client.newStudy('Killed');
  await client.bringIn(study, toCsv(developmentCohort(6000)), 'development', (dictionary) => {
    for (const entry of dictionary) {
      if (entry.name === 'injury_7_days') entry.role = 'outcome';
      if (/^(injury_grade|highest_creatinine|renal_ward_transfer)$/.test(entry.name))
        entry.role = 'set aside';
    }
  });
  await client.changeDesign(study, { event: 'yes' });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
  });
  await client.fitted(study);
  return study;
}

interface Act {
  name: string;
  run: () => Promise<unknown>;
  /** About how long it takes: the kill falls somewhere within. */
  milliseconds: number;
}

function actsOn(client: Client, study: string, next: () => number): Act[] {
  const list = toCsv(nextWeekList());
  const development = () => client.get<CohortInfo>(`/api/studies/${study}/development`);
  const design = () => client.get<DesignState>(`/api/studies/${study}/design`);
  const candidates = () => client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
  const lists = () => client.get<CohortInfo[]>(`/api/studies/${study}/cohorts`);
  const fitted = async () => (await candidates()).find(({ family }) => family === 'logistic')!;
  return [
    { name: 'upload', run: () => client.upload('list.csv', list), milliseconds: 250 },
    { name: 'storing', run: () => client.bringIn(study, list, 'screening'), milliseconds: 500 },
    {
      name: 'who is in',
      milliseconds: 300,
      run: async () => {
        const { id, selection } = await development();
        const age = 20 + Math.floor(next() * 30);
        const mine = {
          ...selection,
          exclusions: [{ condition: `age < ${age}`, reason: 'too young' }],
        };
        return client.send('PUT', `/api/cohorts/${id}/selection`, { base: selection, mine });
      },
    },
    {
      name: 'dictionary',
      milliseconds: 400,
      run: async () => {
        const { id } = await development();
        return client.mend(id, (dictionary) => {
          const entry = dictionary.find(({ name }) => name === 'albumin')!;
          entry.missingCodes = entry.missingCodes.length > 0 ? [] : ['0'];
        });
      },
    },
    {
      name: 'design',
      milliseconds: 250,
      run: async () => {
        const { choices } = await design();
        return client.changeDesign(study, {
          seed: choices.seed + 1,
          heldOutShare: 0.2 + 0.2 * next(),
        });
      },
    },
    {
      name: 'undo',
      milliseconds: 300,
      run: () => client.send('POST', `/api/studies/${study}/step`, { direction: 'undo' }),
    },
    {
      name: 'redo',
      milliseconds: 300,
      run: () => client.send('POST', `/api/studies/${study}/step`, { direction: 'redo' }),
    },
    {
      name: 'fit',
      milliseconds: 900,
      run: async () =>
        client.send('PUT', `/api/studies/${study}/candidates`, {
          candidates: (await candidates()).map(({ id }) => id),
        }),
    },
    {
      name: 'scoring',
      milliseconds: 200,
      run: async () => {
        const [cohort] = await lists();
        return client.send('POST', `/api/studies/${study}/screenings`, {
          cohort: cohort.id,
          candidate: (await fitted()).id,
          accept: true,
          unchecked: true,
        });
      },
    },
    {
      name: 'deleting',
      milliseconds: 150,
      run: async () => {
        const [cohort] = await lists();
        return client.send('DELETE', `/api/cohorts/${cohort.id}`);
      },
    },
  ];
}

/** Until web server, database and worker all answer. */
async function answering({ address }: FreshProduct): Promise<void> {
  for (let tries = 0; tries < 600 * pace; tries++) {
    const answer = await fetch(`${address}/api/health`).catch(() => undefined);
    if (answer?.ok) return;
    await wait(50);
  }
  throw new Error('The product did not come back in time.');
}

/** Whether every fit comes to an end. */
async function atRest(client: Client, study: string): Promise<boolean> {
  for (let tries = 0; tries < 600 * pace; tries++) {
    const lines = await client
      .get<CandidateLine[]>(`/api/studies/${study}/candidates`)
      .catch(() => undefined);
    const busy = (state: string) => state === 'waiting' || state === 'fitting';
    if (Array.isArray(lines) && !lines.some(({ state }) => busy(state))) return true;
    await wait(100);
  }
  return false;
}
