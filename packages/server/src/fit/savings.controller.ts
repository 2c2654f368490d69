import { type OfRecipe, ofRecipeSchema, type SavingsView } from '@muted-pond/core/api';
import { Body, Controller, Delete, Inject, Param, Post } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import { openApiSchema } from '../open-api.js';
import { SavingsService } from './savings.service.js';

@ApiTags('fit')
@Controller('api/pieces/:piece/savings')
export class SavingsController {
  constructor(@Inject(SavingsService) private readonly savings: SavingsService) {}

  @Post()
  @ApiOperation({ summary: 'Try out what would make the file lighter; nothing is kept' })
  @ApiBody({ schema: openApiSchema(ofRecipeSchema) })
  begin(
    @Param('piece') piece: string,
    @Body({ schema: ofRecipeSchema }) { recipe }: OfRecipe,
  ): Promise<SavingsView> {
    return this.savings.begin(piece, recipe);
  }

  @Delete()
  @ApiOperation({ summary: 'Stop trying' })
  stop(@Param('piece') piece: string): Promise<void> {
    return this.savings.stop(piece);
  }
}
