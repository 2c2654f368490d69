import { createReadStream } from 'node:fs';
import { LAYER_KINDS, type LayerView } from '@muted-pond/core/api';
import { Controller, Get, Header, Inject, Param, Post, Query, Req, StreamableFile } from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { Problem } from '../problems/index.js';
import { LayersService } from './layers.service.js';

@ApiTags('layers')
@Controller('api/layers')
export class LayersController {
  constructor(@Inject(LayersService) private readonly layers: LayersService) {}

  @Post()
  @ApiOperation({
    summary: 'Keep a mask, a plate, an emblem, a table of colours or a font: the body is the file',
  })
  @ApiQuery({ name: 'name', required: false })
  @ApiQuery({ name: 'kind', required: false, enum: LAYER_KINDS })
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  receive(
    @Req() request: Request,
    @Query('name') name = 'The picture',
    @Query('kind') kind: string = 'picture',
  ): Promise<LayerView> {
    const known = LAYER_KINDS.find((one) => one === kind);
    if (!known)
      throw new Problem(400, 'request_refused', `“${kind}” is not kept: ${LAYER_KINDS.join(', ')} are.`);
    return this.layers.receive(request, name, known);
  }

  @Get(':hash')
  @Header('Cache-Control', 'public, max-age=31536000, immutable')
  @ApiOperation({ summary: 'The bytes of a layer' })
  async get(@Param('hash') hash: string): Promise<StreamableFile> {
    return new StreamableFile(createReadStream(await this.layers.path(hash)), {
      type: 'application/octet-stream',
    });
  }
}
