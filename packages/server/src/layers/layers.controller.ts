import { createReadStream } from 'node:fs';
import type { LayerView } from '@muted-pond/core/api';
import { Controller, Get, Header, Inject, Param, Post, Query, Req, StreamableFile } from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { LayersService } from './layers.service.js';

@ApiTags('layers')
@Controller('api/layers')
export class LayersController {
  constructor(@Inject(LayersService) private readonly layers: LayersService) {}

  @Post()
  @ApiOperation({ summary: 'Keep a painted mask or a retouched plate: the request’s body is a PNG' })
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  receive(@Req() request: Request, @Query('name') name = 'The picture'): Promise<LayerView> {
    return this.layers.receive(request, name);
  }

  @Get(':hash')
  @Header('Cache-Control', 'public, max-age=31536000, immutable')
  @ApiOperation({ summary: 'A mask or a plate' })
  async get(@Param('hash') hash: string): Promise<StreamableFile> {
    return new StreamableFile(createReadStream(await this.layers.path(hash)), { type: 'image/png' });
  }
}
