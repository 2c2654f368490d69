import { OF_FOOTAGE, type OfFootage } from '@muted-pond/core/identity';
import type { CallHandler, ExecutionContext, NestInterceptor } from '@nestjs/common';
import type { Request, Response } from 'express';
import { type Observable, tap } from 'rxjs';

/**
 * Lets browsers keep an answer for a year where they asked for it by its version (`?v=`); whoever names none, or
 * another one, asks again each time.
 */
export class LastingAnswer implements NestInterceptor {
  constructor(private readonly of: OfFootage) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const http = context.switchToHttp();
    const isVersion = http.getRequest<Request>().query.v === String(OF_FOOTAGE[this.of].version);
    const caching = isVersion ? 'public, max-age=31536000, immutable' : 'no-cache';
    return next.handle().pipe(tap(() => http.getResponse<Response>().setHeader('Cache-Control', caching)));
  }
}
