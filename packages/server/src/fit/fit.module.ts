import { Module } from '@nestjs/common';
import { PiecesModule } from '../pieces/index.js';
import { TrialsModule } from '../trials/index.js';
import { FitController } from './fit.controller.js';
import { FitService } from './fit.service.js';
import { SavingsController } from './savings.controller.js';
import { SavingsService } from './savings.service.js';

@Module({
  imports: [PiecesModule, TrialsModule],
  controllers: [FitController, SavingsController],
  providers: [FitService, SavingsService],
})
export class FitModule {}
