import { type SavingsRequest, type SavingsView, savingsRequestSchema } from '@muted-pond/core/api';
import { SAVING_FAMILIES } from '@muted-pond/core/derived';
import { Body, Controller, Delete, Inject, Param, Post, Query } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger';
import { openApiSchema } from '../open-api.js';
import { SavingsService } from './savings.service.js';

@ApiTags('fit')
@Controller('api/pieces/:piece/savings')
export class SavingsController {
  constructor(@Inject(SavingsService) private readonly savings: SavingsService) {}

  @Post()
  @ApiOperation({ summary: 'Try out what would make the file lighter; nothing is kept' })
  @ApiBody({ schema: openApiSchema(savingsRequestSchema) })
  request(
    @Param('piece') piece: string,
    @Body({ schema: savingsRequestSchema }) { recipe, of }: SavingsRequest,
  ): Promise<SavingsView> {
    return this.savings.request(piece, recipe, of);
  }

  @Delete()
  @ApiOperation({ summary: 'Stop trying' })
  @ApiQuery({ name: 'of', required: false, enum: SAVING_FAMILIES })
  stop(@Param('piece') piece: string, @Query('of') of?: string): Promise<void> {
    return this.savings.stop(piece, SAVING_FAMILIES.find((one) => one === of) ?? 'settings');
  }
}
