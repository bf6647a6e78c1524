import * as Comlink from 'comlink';

/**
 * A function that tells a page how far a thread is. It goes to the thread as one end of a channel, which is
 * closed when the call is over: channels that stay open keep everything that their listeners can reach.
 */
type Report = (fraction: number) => void;

const ports = new WeakMap<Report, MessagePort | null>();

Comlink.transferHandlers.set('report', {
  canHandle: (value): value is Report => typeof value === 'function' && ports.has(value as Report),
  serialize(report: Report) {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = ({ data }: MessageEvent<number>) => report(data);
    ports.set(report, port1);
    return [port2, [port2]];
  },
  deserialize:
    (port: MessagePort): Report =>
    (fraction) =>
      port.postMessage(fraction),
});

/** Lets a thread report its progress, 0..1. */
export function progress(report: Report): Report & Comlink.ProxyMarked {
  const sent: Report = (fraction) => report(fraction);
  ports.set(sent, null);
  return sent as Report & Comlink.ProxyMarked;
}

/** Ends the channel of a report, if it is one. */
export function closeReport(value: unknown): void {
  if (typeof value === 'function') ports.get(value as Report)?.close();
}
