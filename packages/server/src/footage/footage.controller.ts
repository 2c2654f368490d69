import type { FootageTimes, FootageView, MotionView } from '@muted-pond/core/api';
import {
  Controller,
  Delete,
  Get,
  Header,
  Inject,
  Param,
  ParseIntPipe,
  Post,
  Query,
  Req,
  StreamableFile,
  UseInterceptors,
} from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { frameTimes, viewType } from '../media/index.js';
import { Problem } from '../problems/index.js';
import { cleanName } from './clean-name.js';
import { FootageService } from './footage.service.js';
import { LastingAnswer } from './lasting-answer.js';

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
  @ApiOperation({ summary: 'Bring a video, an animation or a picture in: the request’s body is the file' })
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
  @UseInterceptors(new LastingAnswer('times'))
  @ApiOperation({ summary: 'When each frame appears, seconds from the first' })
  async times(@Param('hash') hash: string): Promise<FootageTimes> {
    const times = frameTimes((await this.footage.get(hash)).facts);
    return { starts: Array.from(times.starts), duration: times.duration };
  }

  @Get(':hash/strip/:place')
  @Header('Cache-Control', 'no-store')
  @ApiOperation({ summary: 'One picture of the strip’s first look: the key frame nearest before the place' })
  async strip(
    @Param('hash') hash: string,
    @Param('place', ParseIntPipe) place: number,
  ): Promise<StreamableFile> {
    return picture(await this.footage.strip(hash, place));
  }

  @Get(':hash/frames/:frame')
  @UseInterceptors(new LastingAnswer('frames'))
  @ApiOperation({
    summary:
      'One working frame by its index: JPEG, or WebP where it is transparent; longer side at most 960 px',
  })
  async frame(
    @Param('hash') hash: string,
    @Param('frame', ParseIntPipe) frame: number,
  ): Promise<StreamableFile> {
    return picture(await this.footage.frame(hash, fromZero(frame)));
  }

  @Get(':hash/full/:frame')
  @UseInterceptors(new LastingAnswer('full'))
  @ApiOperation({ summary: 'One frame in full size, as PNG, to be saved and worked on elsewhere' })
  async full(
    @Param('hash') hash: string,
    @Param('frame', ParseIntPipe) frame: number,
    @Query('saveAs') saveAs = 'plate.png',
  ): Promise<StreamableFile> {
    const png = await this.footage.fullFrame(hash, fromZero(frame));
    return new StreamableFile(png, {
      type: 'image/png',
      length: png.length,
      disposition: `attachment; filename*=UTF-8''${encodeURIComponent(cleanName(saveAs))}`,
    });
  }

  @Get(':hash/small/:frame')
  @UseInterceptors(new LastingAnswer('small'))
  @ApiOperation({ summary: 'One frame for the strip, exactly, longer side at most 240 px' })
  async small(
    @Param('hash') hash: string,
    @Param('frame', ParseIntPipe) frame: number,
  ): Promise<StreamableFile> {
    return picture(await this.footage.smallFrame(hash, fromZero(frame)));
  }

  @Get(':hash/activity')
  @Header('Cache-Control', 'no-store')
  @ApiOperation({
    summary:
      'What happens from each frame to the next, as far as it is known: moves, shift x, shift y, light (float32)',
  })
  async activity(@Param('hash') hash: string): Promise<StreamableFile> {
    return new StreamableFile(await this.footage.activity(hash), { type: 'application/octet-stream' });
  }

  @Get(':hash/motion')
  @UseInterceptors(new LastingAnswer('motion'))
  @ApiOperation({ summary: 'Which parts of the picture move between two frames, camera and light taken out' })
  motion(
    @Param('hash') hash: string,
    @Query('from', ParseIntPipe) from: number,
    @Query('to', ParseIntPipe) to: number,
  ): Promise<MotionView> {
    return this.footage.motion(hash, from, to);
  }

  @Get(':hash/looks/:from/:to')
  @UseInterceptors(new LastingAnswer('looks'))
  @ApiOperation({
    summary:
      'Frames on which joints are judged, from one to another, exclusive: luma of at most 160 px on the longer side, Cb and Cr of half that size',
  })
  async looks(
    @Param('hash') hash: string,
    @Param('from', ParseIntPipe) from: number,
    @Param('to', ParseIntPipe) to: number,
  ): Promise<StreamableFile> {
    return new StreamableFile(await this.footage.looks(hash, from, to), { type: 'application/octet-stream' });
  }

  @Get(':hash/signatures')
  @Header('Cache-Control', 'no-store')
  @ApiOperation({
    summary:
      'Frames in small (64 × 36 luma, 16 × 9 Cb and Cr), from one to another, exclusive; empty until the footage was gone through',
  })
  async signatures(
    @Param('hash') hash: string,
    @Query('from', ParseIntPipe) from: number,
    @Query('to', ParseIntPipe) to: number,
  ): Promise<StreamableFile> {
    return new StreamableFile(await this.footage.signatures(hash, fromZero(from), fromZero(to)), {
      type: 'application/octet-stream',
    });
  }

  @Delete(':hash')
  @ApiOperation({ summary: 'Take a file out of the library; its pieces keep it, and it can be put back' })
  delete(@Param('hash') hash: string): Promise<void> {
    return this.footage.delete(hash);
  }

  @Post(':hash/restore')
  @ApiOperation({ summary: 'Put a deleted file back' })
  restore(@Param('hash') hash: string): Promise<FootageView> {
    return this.footage.restore(hash);
  }
}

function picture(bytes: Buffer): StreamableFile {
  return new StreamableFile(bytes, { type: viewType(bytes), length: bytes.length });
}

function fromZero(frame: number): number {
  if (frame < 0) throw new Problem(400, 'no_such_frame', 'Frames are counted from 0.');
  return frame;
}
