import {
  type NewPiece,
  newPieceSchema,
  type PieceSave,
  type PieceView,
  pieceSaveSchema,
  type ShelfPiece,
} from '@muted-pond/core/api';
import { Body, Controller, Delete, Get, Inject, Param, Post, Put, Res, StreamableFile } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { openApiSchema } from '../open-api.js';
import { PiecesService } from './pieces.service.js';

@ApiTags('pieces')
@Controller('api/pieces')
export class PiecesController {
  constructor(@Inject(PiecesService) private readonly pieces: PiecesService) {}

  @Get()
  @ApiOperation({ summary: 'The shelf, newest first' })
  list(): Promise<ShelfPiece[]> {
    return this.pieces.list();
  }

  @Post()
  @ApiOperation({ summary: 'A new piece over footage' })
  @ApiBody({ schema: openApiSchema(newPieceSchema) })
  create(@Body({ schema: newPieceSchema }) body: NewPiece): Promise<PieceView> {
    return this.pieces.create(body);
  }

  @Get(':id')
  @ApiOperation({ summary: 'One piece' })
  get(@Param('id') id: string): Promise<PieceView> {
    return this.pieces.get(id);
  }

  @Get(':id/recipe')
  @ApiOperation({ summary: 'The recipe as a file, also of a piece that cannot be read here' })
  async recipe(
    @Param('id') id: string,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StreamableFile> {
    const { name, json } = await this.pieces.storedRecipe(id);
    response.attachment(`${name.toWellFormed()}.recipe.json`);
    return new StreamableFile(Buffer.from(json), { type: 'application/json' });
  }

  @Put(':id')
  @ApiOperation({ summary: 'Save name and recipe; 409 when it was changed elsewhere since' })
  @ApiBody({ schema: openApiSchema(pieceSaveSchema) })
  save(@Param('id') id: string, @Body({ schema: pieceSaveSchema }) body: PieceSave): Promise<PieceView> {
    return this.pieces.save(id, body);
  }

  @Delete(':id')
  @ApiOperation({ summary: 'Take a piece off the shelf; it can be put back' })
  delete(@Param('id') id: string): Promise<void> {
    return this.pieces.delete(id);
  }

  @Post(':id/restore')
  @ApiOperation({ summary: 'Put a deleted piece back' })
  restore(@Param('id') id: string): Promise<PieceView> {
    return this.pieces.restore(id);
  }

  @Post(':id/duplicate')
  @ApiOperation({ summary: 'A second piece with the same recipe' })
  duplicate(@Param('id') id: string): Promise<PieceView> {
    return this.pieces.duplicate(id);
  }
}
