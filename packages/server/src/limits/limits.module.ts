import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { DestinationLimit } from './limit.entity.js';
import { LimitsController } from './limits.controller.js';
import { LimitsService } from './limits.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([DestinationLimit])],
  controllers: [LimitsController],
  providers: [LimitsService],
  exports: [LimitsService],
})
export class LimitsModule {}
