import type { PositionedEvent } from '@grellin/contract';
import { Observable } from 'rxjs';

export interface StreamMessage {
  readonly run: string;
  readonly lease: number;
  readonly closed: boolean;
  readonly events: readonly PositionedEvent[];
}

/** A message, or null for a connection that was lost and is being made again. */
export type StreamSignal = StreamMessage | null;

const AGAIN_MS = 1000;

/**
 * The events of runs as the server commits them, each from its position on, over one connection. The browser's own event source comes back by itself with the position it had; when the server
 * refused it outright (it was being restarted) a new one is made.
 */
export function runStream(follow: () => Readonly<Record<string, number>>): Observable<StreamSignal> {
  return new Observable((subscriber) => {
    let source: EventSource | null = null;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const open = (): void => {
      const wanted = Object.entries(follow()).map(([run, seq]) => `${run}:${String(seq)}`);
      source = new EventSource(`/api/runs/events?follow=${wanted.join(',')}`);
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
