import { randomUUID } from 'node:crypto';
import type { LimitValues } from '@muted-pond/core/api';
import type { Limit } from '@muted-pond/core/recipe';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Repository } from 'typeorm';
import { notFound } from '../problems/index.js';
import { DestinationLimit } from './limit.entity.js';

@Injectable()
export class LimitsService {
  constructor(@InjectRepository(DestinationLimit) private readonly limits: Repository<DestinationLimit>) {}

  async list(): Promise<Limit[]> {
    return (await this.limits.find({ order: { ordinal: 'ASC' } })).map(view);
  }

  async create(values: LimitValues): Promise<Limit> {
    const last = await this.limits.maximum('ordinal', {});
    return view(await this.limits.save(rowOf(values, randomUUID(), (last ?? 0) + 1)));
  }

  /** Also puts one back that was deleted: the id is kept. */
  async put(id: string, values: LimitValues): Promise<Limit> {
    const there = await this.limits.findOneBy({ id });
    const last = await this.limits.maximum('ordinal', {});
    return view(await this.limits.save(rowOf(values, id, there?.ordinal ?? (last ?? 0) + 1)));
  }

  async delete(id: string): Promise<void> {
    const { affected } = await this.limits.delete(id);
    if (!affected) throw notFound('limit');
  }
}

function view({ ordinal: _, ...limit }: DestinationLimit): Limit {
  return limit;
}

function rowOf(values: LimitValues, id: string, ordinal: number): DestinationLimit {
  return { ...values, id, ordinal, kinds: values.kinds && [...values.kinds] };
}
