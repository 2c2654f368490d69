import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { ActivityService } from './activity.service.js';
import { FootageController } from './footage.controller.js';
import { Footage } from './footage.entity.js';
import { FootageService } from './footage.service.js';
import { FrameService } from './frame.service.js';
import { LooksService } from './looks.service.js';
import { MotionService } from './motion.service.js';
import { StripService } from './strip.service.js';
import { UploadsController } from './uploads.controller.js';
import { UploadsService } from './uploads.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([Footage])],
  controllers: [FootageController, UploadsController],
  providers: [
    FootageService,
    UploadsService,
    StripService,
    FrameService,
    ActivityService,
    LooksService,
    MotionService,
  ],
  exports: [FootageService],
})
export class FootageModule {}
