import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { FootageModule } from '../footage/index.js';
import { LayersModule } from '../layers/index.js';
import { Piece } from './piece.entity.js';
import { PiecesController } from './pieces.controller.js';
import { PiecesService } from './pieces.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([Piece]), FootageModule, LayersModule],
  controllers: [PiecesController],
  providers: [PiecesService],
  exports: [PiecesService],
})
export class PiecesModule {}
