import { EventEmitter } from 'node:events';
import { changedChannel, listen } from '../jobs/index.ts';

const changes = new EventEmitter().setMaxListeners(0);
let listening = false;

/**
 * A stream of "changed" events with a sign of life every 20 seconds. Each names the study that has
 * changed; an empty name means that something may have been missed.
 *
 * @param studyId hears of this study only; of all where it is absent
 */
export function studyEvents(
  studyId: string | undefined,
  signal: AbortSignal,
): ReadableStream<Uint8Array> {
  if (!listening) {
    listening = true;
    // An empty payload means that the connection was lost for a while: everyone fetches anew.
    listen(changedChannel, (study) => changes.emit('changed', study));
  }
  const encoder = new TextEncoder();
  let end = () => {};
  return new ReadableStream({
    start(controller) {
      const send = (text: string) => controller.enqueue(encoder.encode(text));
      const tell = (study: string) =>
        send(`event: changed\ndata: ${JSON.stringify({ study })}\n\n`);
      const heard = (study: string) => {
        if (study === '' || studyId === undefined || study === studyId) tell(study);
      };
      changes.on('changed', heard);
      const life = setInterval(() => send(': still here\n\n'), 20_000);
      end = () => {
        changes.off('changed', heard);
        clearInterval(life);
      };
      signal.addEventListener('abort', end);
      // How long a browser waits before it asks again after a lost connection.
      send('retry: 1000\n\n');
      tell('');
    },
    cancel: () => end(),
  });
}

/** The answer that carries such a stream. */
export const streamOfEvents = (stream: ReadableStream<Uint8Array>) =>
  new Response(stream, {
    headers: { 'Content-Type': 'text/event-stream', 'X-Accel-Buffering': 'no' },
  });
