import { Global, Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { EventsController } from './events.controller.js';
import { PondEvents } from './events.js';
import { Job } from './job.entity.js';
import { JobPool } from './job-pool.js';
import { Jobs } from './jobs.service.js';

@Global()
@Module({
  imports: [TypeOrmModule.forFeature([Job])],
  controllers: [EventsController],
  providers: [PondEvents, JobPool, Jobs],
  exports: [PondEvents, JobPool, Jobs],
})
export class JobsModule {}
