import { Controller, Inject, type MessageEvent, Sse } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import { interval, map, merge, type Observable } from 'rxjs';
import { PondEvents } from './events.js';

const HEARTBEAT_MS = 20_000;

@ApiTags('events')
@Controller('api/events')
export class EventsController {
  constructor(@Inject(PondEvents) private readonly events: PondEvents) {}

  @Sse()
  @ApiOperation({ summary: 'Progress of strips and trials, as server-sent events' })
  listen(): Observable<MessageEvent> {
    return merge(
      this.events.stream.pipe(map((event): MessageEvent => ({ data: event }))),
      interval(HEARTBEAT_MS).pipe(map((): MessageEvent => ({ type: 'heartbeat', data: '' }))),
    );
  }
}
