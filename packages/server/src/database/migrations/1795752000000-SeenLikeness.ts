import type { MigrationInterface, QueryRunner } from 'typeorm';

/** How trials of any size look beside each other. */
export class SeenLikeness1795752000000 implements MigrationInterface {
  name = 'SeenLikeness1795752000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE "trial" ADD COLUMN "seen" text`);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE "trial" DROP COLUMN "seen"`);
  }
}
