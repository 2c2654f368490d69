import type { FootageTimes, FootageView } from '@muted-pond/core/api';
import {
  Controller,
  Get,
  Header,
  Inject,
  Param,
  ParseIntPipe,
  Post,
  Query,
  Req,
  StreamableFile,
} from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { frameTimes } from '../media/index.js';
import { Problem } from '../problems/index.js';
import { FootageService } from './footage.service.js';

const FOR_EVER = 'public, max-age=31536000, immutable';
const LONGEST_NAME = 200;

@ApiTags('footage')
@Controller('api/footage')
export class FootageController {
  constructor(@Inject(FootageService) private readonly footage: FootageService) {}

  @Get()
  @ApiOperation({ summary: 'All footage, newest first' })
  list(): Promise<FootageView[]> {
    return this.footage.list();
  }

  @Post()
  @ApiOperation({ summary: 'Bring a video in: the request’s body is the file' })
  @ApiConsumes('application/octet-stream')
  @ApiQuery({ name: 'name', description: 'What the file is called' })
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  receive(@Req() request: Request, @Query('name') name: string): Promise<FootageView> {
    return this.footage.receive(request, cleanName(name));
  }

  @Get(':hash')
  @ApiOperation({ summary: 'What is known of one file' })
  async get(@Param('hash') hash: string): Promise<FootageView> {
    const row = await this.footage.get(hash);
    this.footage.prepare(row);
    return this.footage.view(row);
  }

  @Get(':hash/times')
  @Header('Cache-Control', FOR_EVER)
  @ApiOperation({ summary: 'When each frame appears, seconds from the first' })
  async times(@Param('hash') hash: string): Promise<FootageTimes> {
    const times = frameTimes((await this.footage.get(hash)).facts);
    return { starts: Array.from(times.starts), duration: times.duration };
  }

  @Get(':hash/strip/:place')
  @Header('Cache-Control', 'no-store')
  @ApiOperation({ summary: 'One picture of the strip, JPEG; the best there is so far' })
  async strip(
    @Param('hash') hash: string,
    @Param('place', ParseIntPipe) place: number,
  ): Promise<StreamableFile> {
    return jpeg(await this.footage.strip(hash, place));
  }

  @Get(':hash/frames/:frame')
  @Header('Cache-Control', FOR_EVER)
  @ApiOperation({ summary: 'One working frame by its index, JPEG, longer side at most 960 px' })
  async frame(
    @Param('hash') hash: string,
    @Param('frame', ParseIntPipe) frame: number,
  ): Promise<StreamableFile> {
    if (frame < 0) throw new Problem(400, 'no_such_frame', 'Frames are counted from 0.');
    return jpeg(await this.footage.frame(hash, frame));
  }
}

function jpeg(bytes: Buffer): StreamableFile {
  return new StreamableFile(bytes, { type: 'image/jpeg', length: bytes.length });
}

/** The last part of the path, without control characters, never empty. */
export function cleanName(name: string | undefined): string {
  const last = (name ?? '').split(/[\\/]/).at(-1) ?? '';
  // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what must go
  const clean = last.replace(/[\u0000-\u001f\u007f]/g, '').trim();
  return clean.slice(0, LONGEST_NAME) || 'unnamed';
}
