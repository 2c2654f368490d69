import { type HoldingView, type OfRecipe, ofRecipeSchema } from '@muted-pond/core/api';
import { Body, Controller, Delete, Inject, Param, Post } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import { openApiSchema } from '../open-api.js';
import { HoldingService } from './holding.service.js';

@ApiTags('holding')
@Controller('api/pieces/:piece/holding')
export class HoldingController {
  constructor(@Inject(HoldingService) private readonly holding: HoldingService) {}

  @Post()
  @ApiOperation({
    summary: 'Measure what steady and even light do to a recipe’s frames; the same again costs nothing',
  })
  @ApiBody({ schema: openApiSchema(ofRecipeSchema) })
  request(
    @Param('piece') piece: string,
    @Body({ schema: ofRecipeSchema }) { recipe }: OfRecipe,
  ): Promise<HoldingView> {
    return this.holding.request(piece, recipe);
  }

  @Delete()
  @ApiOperation({ summary: 'Stop measuring' })
  stop(@Param('piece') piece: string): Promise<void> {
    return this.holding.stop(piece);
  }
}
