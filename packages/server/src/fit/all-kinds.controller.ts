import { type KindsView, type OfRecipe, ofRecipeSchema } from '@muted-pond/core/api';
import { Body, Controller, Delete, Get, Inject, Param, Post } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import { openApiSchema } from '../open-api.js';
import { AllKindsService } from './all-kinds.service.js';

@ApiTags('fit')
@Controller('api/pieces/:piece/kinds')
export class AllKindsController {
  constructor(@Inject(AllKindsService) private readonly kinds: AllKindsService) {}

  @Post()
  @ApiOperation({ summary: 'Make the same loop in every kind of file; they become trials' })
  @ApiBody({ schema: openApiSchema(ofRecipeSchema) })
  begin(
    @Param('piece') piece: string,
    @Body({ schema: ofRecipeSchema }) { recipe }: OfRecipe,
  ): Promise<KindsView> {
    return this.kinds.begin(piece, recipe);
  }

  @Get()
  @ApiOperation({ summary: 'How far the last round is, or what it made; null where there was none' })
  last(@Param('piece') piece: string): Promise<KindsView | null> {
    return this.kinds.last(piece);
  }

  @Delete()
  @ApiOperation({ summary: 'Stop making them' })
  stop(@Param('piece') piece: string): Promise<void> {
    return this.kinds.stop(piece);
  }
}
