import { Module } from '@nestjs/common';
import { StorageModule } from '../storage.module.js';
import { FontsController } from './fonts.controller.js';
import { LayersController } from './layers.controller.js';
import { LayersService } from './layers.service.js';

@Module({
  imports: [StorageModule],
  controllers: [LayersController, FontsController],
  providers: [LayersService],
  exports: [LayersService],
})
export class LayersModule {}
