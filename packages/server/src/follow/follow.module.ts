import { Module } from '@nestjs/common';
import { PiecesModule } from '../pieces/index.js';
import { FollowController } from './follow.controller.js';
import { FollowService } from './follow.service.js';

@Module({
  imports: [PiecesModule],
  controllers: [FollowController],
  providers: [FollowService],
})
export class FollowModule {}
