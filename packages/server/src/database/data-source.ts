import 'reflect-metadata';
import { DataSource } from 'typeorm';
import { databaseOptions } from './options.js';

/** For the TypeORM command line, which generates migrations against an empty database. */
export default new DataSource(databaseOptions(':memory:'));
