/// <reference lib="webworker" />
// One for all tabs of a browser: a browser opens only six connections to a server, and a stream of
// each tab would soon take them all.

interface Asking {
  port: MessagePort;
  study: string;
}

const asking: Asking[] = [];
let events: EventSource | undefined;

(self as unknown as SharedWorkerGlobalScope).onconnect = ({ ports: [port] }) => {
  port.onmessage = ({ data }: MessageEvent<{ study: string } | 'leave'>) => {
    const place = asking.findIndex((one) => one.port === port);
    if (place >= 0) asking.splice(place, 1);
    if (data !== 'leave') asking.push({ port, study: data.study });
    if (asking.length === 0) {
      events?.close();
      events = undefined;
    } else open(port);
  };
};

function open(port: MessagePort): void {
  if (events) {
    // Whoever comes late has missed what was said before.
    if (events.readyState === EventSource.OPEN) port.postMessage('open');
    port.postMessage('changed');
    return;
  }
  events = new EventSource('/api/events');
  events.onopen = () => tell(() => true, 'open');
  events.onerror = () => tell(() => true, 'away');
  events.addEventListener('changed', ({ data }: MessageEvent<string>) => {
    const { study } = JSON.parse(data) as { study: string };
    tell((one) => study === '' || one.study === study, 'changed');
  });
}

function tell(whom: (one: Asking) => boolean, what: 'open' | 'away' | 'changed'): void {
  for (const one of asking) if (whom(one)) one.port.postMessage(what);
}
