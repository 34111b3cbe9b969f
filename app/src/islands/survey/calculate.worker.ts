import { calculations, type Calculations } from './calculate.ts';

interface Asked {
  id: number;
  name: keyof Calculations;
  given: unknown[];
}

self.onmessage = ({ data }: MessageEvent<Asked>) => {
  const calculate = calculations[data.name] as (...given: unknown[]) => unknown;
  try {
    self.postMessage({ id: data.id, result: calculate(...data.given) });
  } catch (error) {
    self.postMessage({ id: data.id, error: error instanceof Error ? error.message : 'Failed.' });
  }
};
