import { readdirSync, readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, type Refusal } from '../support/client.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';
import { askedBeside } from '../support/beside.ts';
import { isLong, seedOfTheDay } from '../support/day.ts';
import { harmfulFiles, mutated, soundFiles } from '../support/hostile-files.ts';
import { pace } from '../support/pace.ts';

let product: FreshProduct;
let client: Client;

beforeAll(async () => {
  product = await freshProduct({ demo: false });
  client = new Client(product.address);
});
afterAll(() => product.stop());

const header = 'age,died\n';

/** The largest resident memory of the web server so far, in MB. */
const peak = () =>
  Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${product.web.pid}/status`, 'utf8'))![1]) / 1024;

describe('a file that means harm', () => {
  it.each(harmfulFiles)(
    'is refused by a sentence that names the limit, and holds nobody up: %s',
    async (...one) => {
      const [, make, sentence] = one;
      const { name, content } = make();
      const { status, body, longest } = await askedBeside(client, () =>
        client.upload<Refusal>(name, content),
      );
      expect([status, body.sentence]).toEqual([422, expect.stringMatching(sentence)]);
      // Read in its own loop, such a file blocks a server for a minute; the figure is in the benchmark.
      expect(longest).toBeLessThan(5000 * pace);
    },
  );

  it('leaves the web server as it was', async () => {
    expect(peak()).toBeLessThan(1800);
    const sound = await client.upload('sound.csv', `${header}50,yes\n51,no\n`);
    expect(sound.status).toBe(200);
  });
});

describe('the process that reads a file', () => {
  const readers = () =>
    readdirSync('/proc').filter((pid) => {
      try {
        return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('read-apart.js');
      } catch {
        return false;
      }
    });

  it('ends one reading where it ends, and nothing else', async () => {
    const web = product.web.pid;
    const before = readers();
    const rows = Array.from({ length: 300_000 }, (_, i) => ({ age: i % 90, died: i % 2 }));
    const reading = client.upload<Refusal>('long.json', JSON.stringify(rows));
    let mine: string[] = [];
    while (mine.length === 0) {
      await new Promise((resolve) => setTimeout(resolve, 5));
      mine = readers().filter((pid) => !before.includes(pid));
    }
    for (const pid of mine) process.kill(Number(pid), 'SIGSEGV');
    const { status, body } = await reading;
    expect([status, body.sentence]).toEqual([
      422,
      expect.stringMatching(/^The file cannot be read: .*nothing was stored\.$/),
    ]);
    const again = await client.upload('short.json', JSON.stringify(rows.slice(0, 20)));
    expect(again.status).toBe(200);
    expect(product.web.pid).toBe(web);
    expect(readers().filter((pid) => !before.includes(pid))).toEqual([]);
  });
});

describe('an odd file', () => {
  it('with long texts is stored in pieces that can be read again', async () => {
    const study = await client.newStudy('Long');
    const note = (i: number) => `${'patient seen '.repeat(600)}${i}`;
    const rows = Array.from(
      { length: 3000 },
      (_, i) => `${20 + (i % 60)},${i % 3 ? 'no' : 'yes'},${note(i)}`,
    );
    const { status, body } = await client.bringIn(
      study,
      `age,died,note\n${rows.join('\n')}\n`,
      'development',
      (dictionary) => {
        dictionary[1].role = 'outcome';
        dictionary[2].kind = 'text';
        dictionary[2].role = 'set aside';
      },
    );
    expect(status).toBe(200);
    const page = await client.get<{ rows: string[][] }>(
      `/api/cohorts/${body.id}/rows?from=2500&count=3`,
    );
    expect(page.rows.map((cells) => cells[2])).toEqual([note(2500), note(2501), note(2502)]);
  });

  it('keeps identifiers that no number can hold, in JSON too', async () => {
    const ids = ['12345678901234567890', '12345678901234567891', '9007199254740993'];
    const json = `[${ids.map((id) => `{"id":${id},"text":"1234567890123456789 a"}`).join(',')}]`;
    for (const [name, content] of [
      ['ids.json', json],
      ['ids.csv', `id,text\n${ids.map((id) => `${id},a`).join('\n')}\n`],
    ]) {
      const { body } = await client.upload(name, content);
      expect(body.firstRows.map(([id]) => id)).toEqual(ids);
      expect(body.columns[0].proposal.entry.kind).not.toBe('number');
    }
  });

  it('may call its columns what it likes', async () => {
    const names = ['__proto__', 'toString', 'constructor', 'hasOwnProperty', 'died'];
    const lines = Array.from({ length: 40 }, (_, i) => [
      i,
      i * 2,
      i % 7,
      5 - (i % 3),
      i % 2 ? 'yes' : 'no',
    ]);
    const files: [string, string][] = [
      ['odd.csv', [names, ...lines].map((cells) => cells.join(',')).join('\n')],
      [
        'odd.json',
        `[${lines.map((cells) => `{${names.map((name, i) => `${JSON.stringify(name)}:${JSON.stringify(cells[i])}`).join(',')}}`).join(',')}]`,
      ],
    ];
    for (const [name, content] of files) {
      const { status, body } = await client.upload(name, content);
      expect(status).toBe(200);
      expect(body.columns.map(({ tally }) => tally.name)).toEqual(names);
      expect(body.firstRows[3]).toEqual(lines[3].map(String));
      const study = await client.newStudy('Odd names');
      const dictionary = body.columns.map(({ proposal }) => proposal.entry);
      dictionary[4].role = 'outcome';
      const made = await client.send<{ id: string }>('POST', `/api/studies/${study}/cohorts`, {
        purpose: 'development',
        name: '__proto__',
        uploadId: body.id,
        dictionary,
      });
      expect(made.status).toBe(200);
      await client.changeDesign(study, { event: 'yes' });
      expect((await client.fitted(study))[0].results).toBeDefined();
      const [shown] = (
        await client.get<{ rows: string[][] }>(`/api/cohorts/${made.body.id}/rows?from=3&count=1`)
      ).rows;
      expect(shown).toEqual(lines[3].map(String));
    }
  });

  it('with control characters is cleaned, which is said', async () => {
    const { status, body } = await client.upload(
      'odd.csv',
      `${header}${'50,no\n'.repeat(900)}5\u00001,y\u0007es\n`,
    );
    expect(status).toBe(200);
    expect(body.remarks.map(({ sentence }) => sentence)).toContain(
      '2 control characters, which no text has, were replaced by \ufffd.',
    );
  });
});

/** How many files are changed; others each day. */
const changedFiles = isLong ? 2000 : 80;

describe(`${changedFiles} files changed by chance`, () => {
  it('are each read or refused in a sentence, soon, in bounded memory', async () => {
    const files = await soundFiles();
    for (const file of files)
      expect([file.name, (await client.upload(file.name, file.content)).status]).toEqual([
        file.name,
        200,
      ]);
    const pid = product.web.pid;
    const odd: unknown[] = [];
    let next = 0;
    const worker = async () => {
      for (let nth = next++; nth < changedFiles; nth = next++) {
        const seed = 10_000 * seedOfTheDay + nth;
        const file = mutated(files, seed);
        const begun = performance.now();
        const { status, body } = await client.upload<Refusal>(file.name, file.content);
        const seconds = (performance.now() - begun) / 1000;
        const said = status === 200 || /^[A-Z].*[.?]$/s.test(body.sentence);
        if (![200, 413, 422].includes(status) || !said || seconds > 10 * pace)
          odd.push({ seed, name: file.name, status, body, seconds });
      }
    };
    await Promise.all([worker(), worker(), worker()]);
    expect(odd).toEqual([]);
    expect(product.web.pid).toBe(pid);
    expect(peak()).toBeLessThan(1800);
  });
});
