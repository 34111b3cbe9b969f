import { randomUUID } from 'node:crypto';
import type { Design } from '@rook-scale/core/design';
import type { Dictionary, Role } from '@rook-scale/core/table';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { UploadReview } from '../../src/contract/uploads.ts';
import { pace } from './pace.ts';

export interface Answer<T> {
  status: number;
  body: T;
}

export interface Refusal {
  code: string;
  sentence: string;
}

/** Gives each column its role; those that are not named are predictors. */
export const inRoles =
  (roles: Record<string, Role>) =>
  (dictionary: Dictionary): void => {
    for (const entry of dictionary) entry.role = roles[entry.name] ?? 'predictor';
  };

/** Speaks to the product over HTTP, as a browser would. */
export class Client {
  /**
   * @param agrees to whatever it is asked, as a person would who presses on
   * @param person the browser that it stands for: undo takes back what was done with the same one
   */
  constructor(
    readonly address: string,
    private readonly agrees = true,
    private readonly person = randomUUID(),
  ) {}

  /** The same browser at another address. */
  at(address: string): Client {
    return new Client(address, this.agrees, this.person);
  }

  private get cookie(): string {
    return `rook-person=${this.person}`;
  }

  async send<T>(method: string, path: string, body?: unknown): Promise<Answer<T>> {
    const response = await fetch(this.address + path, {
      method,
      headers: {
        'Content-Type': 'application/json',
        Origin: this.address,
        Cookie: this.cookie,
        ...(this.agrees && { 'Rook-Consent': 'move seen patients,lose cells' }),
      },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    return { status: response.status, body: (await response.json()) as T };
  }

  async get<T>(path: string): Promise<T> {
    return (await this.send<T>('GET', path)).body;
  }

  /** Asks for something that is worked out when it is asked for. */
  async ask<T>(path: string): Promise<T> {
    return (await this.send<T>('POST', path)).body;
  }

  async upload<T = UploadReview>(name: string, content: string | Uint8Array): Promise<Answer<T>> {
    const response = await fetch(`${this.address}/api/uploads?name=${encodeURIComponent(name)}`, {
      method: 'PUT',
      headers: { Origin: this.address, Cookie: this.cookie },
      body: content as BodyInit,
    });
    return { status: response.status, body: (await response.json()) as T };
  }

  async newStudy(name: string): Promise<string> {
    return (await this.send<{ id: string }>('POST', '/api/studies', { name })).body.id;
  }

  /** Brings a file in as it is proposed, after `edit`. */
  async bringIn(
    study: string,
    content: string,
    purpose: 'development' | 'screening',
    edit: (dictionary: Dictionary) => void = () => undefined,
  ): Promise<Answer<{ id: string }>> {
    const { body } = await this.upload('patients.csv', content);
    const dictionary = body.columns.map(({ proposal }) => proposal.entry);
    edit(dictionary);
    return this.send('POST', `/api/studies/${study}/cohorts`, {
      purpose,
      name: 'Patients',
      uploadId: body.id,
      dictionary,
    });
  }

  /** Changes the design in force, as a page would that shows it. */
  async changeDesign(study: string, part: Partial<Design>): Promise<Answer<DesignState>> {
    const { choices } = await this.get<DesignState>(`/api/studies/${study}/design`);
    return this.send('PUT', `/api/studies/${study}/design`, {
      base: choices,
      mine: { ...choices, ...part },
    });
  }

  /** Changes entries of a cohort's dictionary, as a page would that shows it. */
  async mend(
    cohort: string,
    edit: (dictionary: Dictionary) => void,
  ): Promise<Answer<Partial<Refusal>>> {
    const { dictionary } = await this.get<CohortInfo>(`/api/cohorts/${cohort}`);
    const mine = structuredClone(dictionary);
    edit(mine);
    return this.send('PUT', `/api/cohorts/${cohort}/dictionary`, { base: dictionary, mine });
  }

  /** Waits until no candidate of the study is waiting or being fitted. */
  async fitted(study: string, within = 300_000 * pace): Promise<CandidateLine[]> {
    const end = Date.now() + within;
    for (;;) {
      const lines = await this.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
      const busy = lines.some((line) => line.state === 'waiting' || line.state === 'fitting');
      if (lines.length > 0 && !busy) return lines;
      if (Date.now() > end) throw new Error(`Not fitted in time: ${JSON.stringify(lines)}`);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
}
