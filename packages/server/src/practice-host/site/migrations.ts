import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The tables of the practice host. Append only. */
class Begin1795784400000 implements MigrationInterface {
  name = 'Begin1795784400000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      `CREATE TABLE "page" ("id" text PRIMARY KEY NOT NULL, "place" text NOT NULL, "title" text NOT NULL, "about" text NOT NULL, "file" text NOT NULL, "mime" text NOT NULL, "bytes" integer NOT NULL, "width" integer NOT NULL, "height" integer NOT NULL, "plays" integer NOT NULL, "note" text, "createdAt" text NOT NULL, "updatedAt" text NOT NULL, "downAt" text)`,
    );
    await queryRunner.query(`CREATE INDEX "IDX_page_place" ON "page" ("place")`);
    await queryRunner.query(
      `CREATE TABLE "place_mood" ("place" text PRIMARY KEY NOT NULL, "mood" text NOT NULL)`,
    );
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`DROP TABLE "place_mood"`);
    await queryRunner.query(`DROP INDEX "IDX_page_place"`);
    await queryRunner.query(`DROP TABLE "page"`);
  }
}

export const HOST_MIGRATIONS = [Begin1795784400000];

export const HOST_MIGRATION_NAMES: readonly string[] = HOST_MIGRATIONS.map(({ name }) => name);
