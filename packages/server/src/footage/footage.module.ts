import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { ActivityService } from './activity.service.js';
import { FootageController } from './footage.controller.js';
import { Footage } from './footage.entity.js';
import { FootageService } from './footage.service.js';
import { FrameService } from './frame.service.js';
import { MotionService } from './motion.service.js';
import { StripService } from './strip.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([Footage])],
  controllers: [FootageController],
  providers: [FootageService, StripService, FrameService, ActivityService, MotionService],
  exports: [FootageService],
})
export class FootageModule {}
