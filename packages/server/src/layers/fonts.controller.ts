import { createReadStream } from 'node:fs';
import type { FontFace } from '@muted-pond/core/dress';
import { Controller, Get, Header, Inject, Param, StreamableFile } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import { isShippedFont, openShippedFont, shippedFaces } from '../text/index.js';
import { readFaceApart } from './keep-apart.js';
import { LayersService } from './layers.service.js';

@ApiTags('fonts')
@Controller('api/fonts')
export class FontsController {
  constructor(@Inject(LayersService) private readonly layers: LayersService) {}

  @Get()
  @ApiOperation({ summary: 'The fonts that ship, and which characters each has' })
  list(): Promise<readonly FontFace[]> {
    return shippedFaces();
  }

  @Get(':hash')
  @ApiOperation({ summary: 'What is known of a font of one’s own' })
  async face(@Param('hash') hash: string): Promise<FontFace> {
    return readFaceApart(hash, await this.layers.path(hash));
  }

  @Get(':id/file')
  @Header('Cache-Control', 'public, max-age=86400')
  @ApiOperation({ summary: 'The file of a font' })
  async file(@Param('id') id: string): Promise<StreamableFile> {
    const stream = isShippedFont(id) ? openShippedFont(id) : createReadStream(await this.layers.path(id));
    return new StreamableFile(stream, { type: 'font/ttf' });
  }
}
