import { type FollowRequest, type FollowView, followRequestSchema } from '@muted-pond/core/api';
import { Body, Controller, Delete, Inject, Param, Post } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import { openApiSchema } from '../open-api.js';
import { FollowService } from './follow.service.js';

@ApiTags('follow')
@Controller('api/pieces/:piece/follow')
export class FollowController {
  constructor(@Inject(FollowService) private readonly follow: FollowService) {}

  @Post()
  @ApiOperation({ summary: 'Follow what a veil hides, from a frame on; nothing of the piece is changed' })
  @ApiBody({ schema: openApiSchema(followRequestSchema) })
  request(
    @Param('piece') piece: string,
    @Body({ schema: followRequestSchema }) request: FollowRequest,
  ): Promise<FollowView> {
    return this.follow.request(piece, request);
  }

  @Delete()
  @ApiOperation({ summary: 'Stop following' })
  stop(@Param('piece') piece: string): Promise<void> {
    return this.follow.stop(piece);
  }
}
