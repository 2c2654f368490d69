import { All, Controller, Inject, Req, Res } from '@nestjs/common';
import { ApiExcludeController } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { UploadsService } from './uploads.service.js';

/**
 * Files that are brought in so that a broken-off upload goes on where it was (tus, resumable upload protocol
 * 1.0).
 */
@ApiExcludeController()
@Controller('api/uploads')
export class UploadsController {
  constructor(@Inject(UploadsService) private readonly uploads: UploadsService) {}

  @All(['', '{*id}'])
  handle(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }
}
