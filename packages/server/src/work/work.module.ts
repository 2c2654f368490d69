import { Global, Module } from '@nestjs/common';
import { EventsController } from './events.controller.js';
import { PondEvents } from './events.js';
import { WorkerPool } from './worker-pool.js';

@Global()
@Module({
  controllers: [EventsController],
  providers: [PondEvents, WorkerPool],
  exports: [PondEvents, WorkerPool],
})
export class WorkModule {}
