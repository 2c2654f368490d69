import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Footage can be taken out of the library and put back; what was known of files before were facts of videos.
 */
export class FactsOfEveryKind1795575600000 implements MigrationInterface {
  name = 'FactsOfEveryKind1795575600000';

  public async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE "footage" ADD COLUMN "deletedAt" text`);
    await queryRunner.query(
      `UPDATE "footage" SET "facts" = json_set("facts", '$.reader', 'ffmpeg', '$.kind', 'video', '$.hasAlpha', json('false'), '$.wideGamut', json('false'), '$.transfer', 'sdr', '$.plays', 0, '$.addressing', 'time')`,
    );
  }

  public async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE "footage" DROP COLUMN "deletedAt"`);
  }
}
