import { Global, Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { EventsController } from './events.controller.js';
import { PondEvents } from './events.js';
import { Job } from './job.entity.js';
import { Jobs } from './jobs.service.js';
import { ThreadPool } from './thread-pool.js';

@Global()
@Module({
  imports: [TypeOrmModule.forFeature([Job])],
  controllers: [EventsController],
  providers: [PondEvents, ThreadPool, Jobs],
  exports: [PondEvents, ThreadPool, Jobs],
})
export class JobsModule {}
