import { createReadStream } from 'node:fs';
import {
  type OfRecipe,
  ofRecipeSchema,
  type TrialChange,
  type TrialView,
  trialChangeSchema,
} from '@muted-pond/core/api';
import { fileForm } from '@muted-pond/core/files';
import {
  Body,
  Controller,
  Delete,
  Get,
  Inject,
  Param,
  ParseIntPipe,
  Patch,
  Post,
  Query,
  Res,
  StreamableFile,
} from '@nestjs/common';
import { ApiBody, ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { cleanName } from '../footage/index.js';
import { openApiSchema } from '../open-api.js';
import { TrialPicturesService } from './trial-pictures.service.js';
import { upToDate } from './trial-view.js';
import { TrialsService } from './trials.service.js';

@ApiTags('trials')
@Controller('api')
export class TrialsController {
  constructor(
    @Inject(TrialsService) private readonly trials: TrialsService,
    @Inject(TrialPicturesService) private readonly pictures: TrialPicturesService,
  ) {}

  @Get('pieces/:piece/trials')
  @ApiOperation({ summary: 'The trials of a piece, oldest first' })
  list(@Param('piece') piece: string): Promise<TrialView[]> {
    return this.trials.list(piece);
  }

  @Get('trials/shown')
  @ApiOperation({
    summary: 'For every piece the trial of its present recipe, or else its newest finished one',
  })
  shown(): Promise<TrialView[]> {
    return this.trials.shown();
  }

  @Post('pieces/:piece/trials')
  @ApiOperation({ summary: 'Make the file of a recipe; the same recipe again costs nothing' })
  @ApiBody({ schema: openApiSchema(ofRecipeSchema) })
  request(
    @Param('piece') piece: string,
    @Body({ schema: ofRecipeSchema }) body: OfRecipe,
  ): Promise<TrialView> {
    return this.trials.request(piece, body.recipe);
  }

  @Patch('trials/:id')
  @ApiOperation({ summary: 'Pin or name a trial' })
  @ApiBody({ schema: openApiSchema(trialChangeSchema) })
  change(
    @Param('id') id: string,
    @Body({ schema: trialChangeSchema }) change: TrialChange,
  ): Promise<TrialView> {
    return this.trials.change(id, change);
  }

  @Delete('trials/:id')
  @ApiOperation({ summary: 'Stop and forget a trial' })
  delete(@Param('id') id: string): Promise<void> {
    return this.trials.delete(id);
  }

  @Get('trials/:id/file')
  @ApiOperation({
    summary:
      'The finished file, also while it is still being measured; with `saveAs` as a download under that name',
  })
  @ApiQuery({ name: 'saveAs', required: false })
  async file(
    @Param('id') id: string,
    @Query('saveAs') saveAs: string | undefined,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StreamableFile> {
    const early = saveAs ? null : this.trials.unmeasuredFile(id);
    if (early) {
      response.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
      return new StreamableFile(early.bytes, { type: early.mime, length: early.bytes.length });
    }
    const { trial, path } = await this.trials.file(id);
    response.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
    if (saveAs) response.attachment(cleanName(saveAs));
    const { weigh } = upToDate(trial.recipe);
    return new StreamableFile(createReadStream(path), {
      type: fileForm({ ...weigh, kind: trial.figures?.kind ?? weigh.kind }).mime,
      length: trial.figures?.bytes,
    });
  }

  @Get('trials/:id/pictures/:place')
  @ApiOperation({ summary: 'The picture that the finished file shows at a place of the reel, as PNG' })
  async picture(
    @Param('id') id: string,
    @Param('place', ParseIntPipe) place: number,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StreamableFile> {
    const picture = await this.pictures.picture(id, place);
    response.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
    return new StreamableFile(picture, { type: 'image/png' });
  }
}
