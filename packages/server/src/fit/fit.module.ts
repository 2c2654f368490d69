import { Module } from '@nestjs/common';
import { PiecesModule } from '../pieces/index.js';
import { TrialsModule } from '../trials/index.js';
import { FitController } from './fit.controller.js';
import { FitService } from './fit.service.js';

@Module({
  imports: [PiecesModule, TrialsModule],
  controllers: [FitController],
  providers: [FitService],
})
export class FitModule {}
