import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What takes long survives a stop of the server. */
export class Jobs1795766400000 implements MigrationInterface {
  name = 'Jobs1795766400000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      `CREATE TABLE "job" ("id" text PRIMARY KEY NOT NULL, "kind" text NOT NULL, "pieceId" text NOT NULL, "state" text NOT NULL, "payload" text NOT NULL, "view" text, "createdAt" text NOT NULL)`,
    );
    await queryRunner.query(`CREATE INDEX "IDX_job_kind_piece" ON "job" ("kind", "pieceId")`);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`DROP INDEX "IDX_job_kind_piece"`);
    await queryRunner.query(`DROP TABLE "job"`);
  }
}
