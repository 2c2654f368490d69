import { Global, Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { EventsController } from './events.controller.js';
import { PondEvents } from './events.js';
import { Job } from './job.entity.js';
import { JobPool } from './job-pool.js';
import { JobQueues } from './job-queues.js';
import { Jobs } from './jobs.service.js';
import { SharedJobs } from './shared-jobs.js';

@Global()
@Module({
  imports: [TypeOrmModule.forFeature([Job])],
  controllers: [EventsController],
  providers: [PondEvents, JobPool, JobQueues, Jobs, SharedJobs],
  exports: [PondEvents, JobPool, Jobs, SharedJobs],
})
export class JobsModule {}
