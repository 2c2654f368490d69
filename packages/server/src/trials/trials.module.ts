import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { FootageModule } from '../footage/index.js';
import { PiecesModule } from '../pieces/index.js';
import { PackagesController } from './packages.controller.js';
import { SeenLikenessService } from './seen-likeness.service.js';
import { Trial } from './trial.entity.js';
import { TrialPicturesService } from './trial-pictures.service.js';
import { TrialRows } from './trial-rows.js';
import { TrialsController } from './trials.controller.js';
import { TrialsService } from './trials.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([Trial]), FootageModule, PiecesModule],
  controllers: [TrialsController, PackagesController],
  providers: [TrialsService, TrialRows, SeenLikenessService, TrialPicturesService],
  exports: [TrialsService],
})
export class TrialsModule {}
