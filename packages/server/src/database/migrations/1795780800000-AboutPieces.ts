import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What is to be seen in a piece is kept with it. */
export class AboutPieces1795780800000 implements MigrationInterface {
  name = 'AboutPieces1795780800000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE "piece" ADD COLUMN "about" text NOT NULL DEFAULT ('')`);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE "piece" DROP COLUMN "about"`);
  }
}
