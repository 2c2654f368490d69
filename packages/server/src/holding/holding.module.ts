import { Module } from '@nestjs/common';
import { PiecesModule } from '../pieces/index.js';
import { HoldingController } from './holding.controller.js';
import { HoldingService } from './holding.service.js';

@Module({
  imports: [PiecesModule],
  controllers: [HoldingController],
  providers: [HoldingService],
})
export class HoldingModule {}
