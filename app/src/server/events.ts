import { EventEmitter } from 'node:events';
import { changedChannel, listen } from './jobs/index.ts';

const changes = new EventEmitter().setMaxListeners(0);
let listening = false;

/** A stream of "changed" events of one study, with a sign of life every 20 seconds. */
export function studyEvents(studyId: string, signal: AbortSignal): ReadableStream<Uint8Array> {
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
      const heard = (study: string) => {
        if (study === '' || study === studyId) send('event: changed\ndata: {}\n\n');
      };
      changes.on('changed', heard);
      const life = setInterval(() => send(': still here\n\n'), 20_000);
      end = () => {
        changes.off('changed', heard);
        clearInterval(life);
      };
      signal.addEventListener('abort', end);
      // How long a browser waits before it asks again after a lost connection.
      send('retry: 1000\n\nevent: changed\ndata: {}\n\n');
    },
    cancel: () => end(),
  });
}
