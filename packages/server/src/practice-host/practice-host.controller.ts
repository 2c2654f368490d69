import {
  type BesideRequest,
  besideRequestSchema,
  type HostPageChange,
  type HostPageView,
  type HostView,
  hostPageChangeSchema,
  type MoodChange,
  moodChangeSchema,
  type SendingView,
  type SendRequest,
  sendRequestSchema,
} from '@muted-pond/core/api';
import { Body, Controller, Delete, Get, Inject, Param, Patch, Post, Put } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import { openApiSchema } from '../open-api.js';
import { PracticeHost } from './practice-host.service.js';
import { SendingService } from './sending.service.js';

@ApiTags('practice host')
@Controller('api')
export class PracticeHostController {
  constructor(
    @Inject(PracticeHost) private readonly host: PracticeHost,
    @Inject(SendingService) private readonly sending: SendingService,
  ) {}

  @Get('practice-host')
  @ApiOperation({ summary: 'Places that loops can be sent to for practice, and the pages there' })
  view(): Promise<HostView> {
    return this.host.view();
  }

  @Put('practice-host/places/:id/mood')
  @ApiOperation({ summary: 'Have a place behave badly, for practice; or fairly again' })
  @ApiBody({ schema: openApiSchema(moodChangeSchema) })
  setMood(@Param('id') id: string, @Body({ schema: moodChangeSchema }) { mood }: MoodChange): Promise<void> {
    return this.host.setMood(id, mood);
  }

  @Patch('practice-host/pages/:id')
  @ApiOperation({ summary: 'Rename a page, take it down, or put it back' })
  @ApiBody({ schema: openApiSchema(hostPageChangeSchema) })
  change(
    @Param('id') id: string,
    @Body({ schema: hostPageChangeSchema }) change: HostPageChange,
  ): Promise<HostPageView> {
    return this.host.change(id, change);
  }

  @Post('practice-host/beside')
  @ApiOperation({ summary: 'Show finished files beside one another on a page of a place' })
  @ApiBody({ schema: openApiSchema(besideRequestSchema) })
  async beside(@Body({ schema: besideRequestSchema }) request: BesideRequest): Promise<{ url: string }> {
    return { url: await this.sending.publishBeside(request) };
  }

  @Post('pieces/:piece/sending')
  @ApiOperation({ summary: 'Send a finished file to places of the practice host' })
  @ApiBody({ schema: openApiSchema(sendRequestSchema) })
  begin(
    @Param('piece') piece: string,
    @Body({ schema: sendRequestSchema }) request: SendRequest,
  ): Promise<SendingView> {
    return this.sending.begin(piece, request);
  }

  @Get('pieces/:piece/sending')
  @ApiOperation({ summary: 'How far the last sending of a piece is; null where there was none' })
  last(@Param('piece') piece: string): Promise<SendingView | null> {
    return this.sending.last(piece);
  }

  @Delete('pieces/:piece/sending')
  @ApiOperation({ summary: 'Stop sending; what has arrived may be gone on with' })
  stop(@Param('piece') piece: string): Promise<SendingView | null> {
    return this.sending.stop(piece);
  }
}
