import { Module } from '@nestjs/common';
import { LimitsModule } from '../limits/index.js';
import { PiecesModule } from '../pieces/index.js';
import { TrialsModule } from '../trials/index.js';
import { PracticeHostController } from './practice-host.controller.js';
import { PracticeHost } from './practice-host.service.js';
import { SendingService } from './sending.service.js';

@Module({
  imports: [LimitsModule, PiecesModule, TrialsModule],
  controllers: [PracticeHostController],
  providers: [PracticeHost, SendingService],
})
export class PracticeHostModule {}
