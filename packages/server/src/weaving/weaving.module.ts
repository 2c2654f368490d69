import { Module } from '@nestjs/common';
import { PiecesModule } from '../pieces/index.js';
import { WeaveAdviceService } from './weave-advice.service.js';
import { WeavingController } from './weaving.controller.js';
import { WeavingService } from './weaving.service.js';

@Module({
  imports: [PiecesModule],
  controllers: [WeavingController],
  providers: [WeavingService, WeaveAdviceService],
})
export class WeavingModule {}
