import { type LimitValues, limitSchema } from '@muted-pond/core/api';
import type { Limit } from '@muted-pond/core/recipe';
import { Body, Controller, Delete, Get, Inject, Param, Post, Put } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import { openApiSchema } from '../open-api.js';
import { LimitsService } from './limits.service.js';

@ApiTags('limits')
@Controller('api/limits')
export class LimitsController {
  constructor(@Inject(LimitsService) private readonly limits: LimitsService) {}

  @Get()
  @ApiOperation({ summary: 'What destinations accept' })
  list(): Promise<Limit[]> {
    return this.limits.list();
  }

  @Post()
  @ApiOperation({ summary: 'A destination more' })
  @ApiBody({ schema: openApiSchema(limitSchema) })
  create(@Body({ schema: limitSchema }) values: LimitValues): Promise<Limit> {
    return this.limits.create(values);
  }

  @Put(':id')
  @ApiOperation({ summary: 'Change a destination, or put a deleted one back' })
  @ApiBody({ schema: openApiSchema(limitSchema) })
  put(@Param('id') id: string, @Body({ schema: limitSchema }) values: LimitValues): Promise<Limit> {
    return this.limits.put(id, values);
  }

  @Delete(':id')
  @ApiOperation({ summary: 'Take a destination out' })
  delete(@Param('id') id: string): Promise<void> {
    return this.limits.delete(id);
  }
}
