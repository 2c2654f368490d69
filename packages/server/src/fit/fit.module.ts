import { Module } from '@nestjs/common';
import { PiecesModule } from '../pieces/index.js';
import { TrialsModule } from '../trials/index.js';
import { AllKindsController } from './all-kinds.controller.js';
import { AllKindsService } from './all-kinds.service.js';
import { FitController } from './fit.controller.js';
import { FitService } from './fit.service.js';
import { SavingsController } from './savings.controller.js';
import { SavingsService } from './savings.service.js';

@Module({
  imports: [PiecesModule, TrialsModule],
  controllers: [FitController, SavingsController, AllKindsController],
  providers: [FitService, SavingsService, AllKindsService],
})
export class FitModule {}
