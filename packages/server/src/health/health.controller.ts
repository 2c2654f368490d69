import type { BackupView, HealthView } from '@muted-pond/core/api';
import { Controller, Get, Inject, Post } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import { HealthService } from './health.service.js';

@ApiTags('health')
@Controller('api/health')
export class HealthController {
  constructor(@Inject(HealthService) private readonly health: HealthService) {}

  @Get()
  @ApiOperation({
    summary: 'Whether all is there that is needed: the decoder, and rows for the files that are kept',
  })
  get(): Promise<HealthView> {
    return this.health.look();
  }

  @Post('bring-back')
  @ApiOperation({ summary: 'Put files that are kept, but that no row knows, back into the library' })
  bringBack(): Promise<{ brought: number }> {
    return this.health.bringBack();
  }

  @Post('backup')
  @ApiOperation({ summary: 'Write a consistent copy of everything into a new folder beside the data' })
  backUp(): Promise<BackupView> {
    return this.health.backUp();
  }
}
