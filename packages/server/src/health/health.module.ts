import { Module } from '@nestjs/common';
import { FootageModule } from '../footage/index.js';
import { HealthController } from './health.controller.js';
import { HealthService } from './health.service.js';

@Module({ imports: [FootageModule], controllers: [HealthController], providers: [HealthService] })
export class HealthModule {}
