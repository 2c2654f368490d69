import type { PondEvent } from '@muted-pond/core/api';
import { type BeforeApplicationShutdown, Injectable } from '@nestjs/common';
import { type Observable, Subject } from 'rxjs';

/** What the server tells the interface while it works. One stream for everything. */
@Injectable()
export class PondEvents implements BeforeApplicationShutdown {
  private readonly subject = new Subject<PondEvent>();
  readonly stream: Observable<PondEvent> = this.subject.asObservable();

  /** Ends the streams of all listeners. */
  beforeApplicationShutdown(): void {
    this.subject.complete();
  }

  tell(event: PondEvent): void {
    this.subject.next(event);
  }
}
