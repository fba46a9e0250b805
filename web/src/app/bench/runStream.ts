import type { PositionedEvent } from '@grellin/contract';
import { Observable } from 'rxjs';

export interface StreamMessage {
  readonly lease: number;
  readonly closed: boolean;
  readonly events: readonly PositionedEvent[];
}

/** A message, or null for a connection that was lost and is being made again. */
export type StreamSignal = StreamMessage | null;

const AGAIN_MS = 1000;

/**
 * The run's events as the server commits them. The browser's own event source comes back by itself with the position it had; when the server
 * refused it outright (it was being restarted) a new one is made.
 */
export function runStream(run: string, after: () => number): Observable<StreamSignal> {
  return new Observable((subscriber) => {
    let source: EventSource | null = null;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const open = (): void => {
      source = new EventSource(`/api/runs/${run}/events?after=${after()}`);
      source.onmessage = (message: MessageEvent<string>) => subscriber.next(JSON.parse(message.data) as StreamMessage);
      source.onerror = () => {
        subscriber.next(null);
        source?.close();
        timer = setTimeout(open, AGAIN_MS);
      };
    };
    open();
    return () => {
      clearTimeout(timer);
      source?.close();
    };
  });
}
