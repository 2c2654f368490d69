import { type FitRequest, type FitView, fitRequestSchema } from '@muted-pond/core/api';
import { Body, Controller, Delete, Get, Inject, Param, Post } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import { openApiSchema } from '../open-api.js';
import { FitService } from './fit.service.js';

@ApiTags('fit')
@Controller('api/pieces/:piece/fit')
export class FitController {
  constructor(@Inject(FitService) private readonly fit: FitService) {}

  @Post()
  @ApiOperation({ summary: 'Look for three finished files under a limit; they become trials' })
  @ApiBody({ schema: openApiSchema(fitRequestSchema) })
  request(
    @Param('piece') piece: string,
    @Body({ schema: fitRequestSchema }) ask: FitRequest,
  ): Promise<FitView> {
    return this.fit.request(piece, ask);
  }

  @Get()
  @ApiOperation({
    summary: 'How far the last fitting of a piece is, or what it found; null where there was none',
  })
  last(@Param('piece') piece: string): Promise<FitView | null> {
    return this.fit.last(piece);
  }

  @Delete()
  @ApiOperation({ summary: 'Stop looking' })
  stop(@Param('piece') piece: string): Promise<void> {
    return this.fit.stop(piece);
  }
}
