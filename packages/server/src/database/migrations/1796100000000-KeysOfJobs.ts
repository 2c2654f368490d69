import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Jobs carry the key of their result. Those that were asked for without one, and what was told of them, are
 * forgotten: they are asked for again by the page that needs them.
 */
export class KeysOfJobs1796100000000 implements MigrationInterface {
  name = 'KeysOfJobs1796100000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      `DELETE FROM "job" WHERE "kind" IN ('fit', 'kinds', 'savings', 'savings-looks', 'follow', 'weaving')`,
    );
  }

  async down(): Promise<void> {
    // What was forgotten can only be asked for again.
  }
}
