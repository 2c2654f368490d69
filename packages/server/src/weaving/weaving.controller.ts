import {
  type OfRecipe,
  ofRecipeSchema,
  type WeaveAdviceView,
  type WeavingView,
  weaveAskSchema,
} from '@muted-pond/core/api';
import type { WeaveAdviceAsk } from '@muted-pond/core/render';
import { Body, Controller, Delete, Inject, Param, Post } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import { openApiSchema } from '../open-api.js';
import { WeaveAdviceService } from './weave-advice.service.js';
import { WeavingService } from './weaving.service.js';

@ApiTags('weaving')
@Controller('api/pieces/:piece')
export class WeavingController {
  constructor(
    @Inject(WeavingService) private readonly weaving: WeavingService,
    @Inject(WeaveAdviceService) private readonly advice: WeaveAdviceService,
  ) {}

  @Post('weaving')
  @ApiOperation({ summary: 'Weave what a recipe asks for; the same again costs nothing' })
  @ApiBody({ schema: openApiSchema(ofRecipeSchema) })
  weave(
    @Param('piece') piece: string,
    @Body({ schema: ofRecipeSchema }) { recipe }: OfRecipe,
  ): Promise<WeavingView> {
    return this.weaving.request(piece, recipe);
  }

  @Delete('weaving')
  @ApiOperation({ summary: 'Stop weaving' })
  stop(@Param('piece') piece: string): Promise<void> {
    return this.weaving.stop(piece);
  }

  @Post('weave-advice')
  @ApiOperation({ summary: 'Look whether a piece can be woven, and over which common length' })
  @ApiBody({ schema: openApiSchema(weaveAskSchema) })
  advise(
    @Param('piece') piece: string,
    @Body({ schema: weaveAskSchema }) ask: WeaveAdviceAsk,
  ): Promise<WeaveAdviceView> {
    return this.advice.request(piece, ask);
  }

  @Delete('weave-advice')
  @ApiOperation({ summary: 'Stop looking' })
  stopAdvice(@Param('piece') piece: string): Promise<void> {
    return this.advice.stop(piece);
  }
}
