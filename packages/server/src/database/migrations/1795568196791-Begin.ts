import type { MigrationInterface, QueryRunner } from 'typeorm';

export class Begin1795568196791 implements MigrationInterface {
  name = 'Begin1795568196791';

  public async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      `CREATE TABLE "footage" ("hash" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "bytes" integer NOT NULL, "facts" text NOT NULL, "addedAt" text NOT NULL)`,
    );
    await queryRunner.query(
      `CREATE TABLE "piece" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "recipe" text NOT NULL, "revision" integer NOT NULL, "createdAt" text NOT NULL, "updatedAt" text NOT NULL, "deletedAt" text)`,
    );
    await queryRunner.query(
      `CREATE TABLE "trial" ("id" text PRIMARY KEY NOT NULL, "pieceId" text NOT NULL, "ordinal" integer NOT NULL, "key" text NOT NULL, "state" text NOT NULL, "recipe" text NOT NULL, "figures" text, "blob" text, "problem" text, "createdAt" text NOT NULL)`,
    );
    await queryRunner.query(`CREATE INDEX "IDX_d2b1c34c7fffdd4950f6bf49bf" ON "trial" ("pieceId") `);
    await queryRunner.query(`CREATE INDEX "IDX_c94fa5b8e78e181f2d7f9e6496" ON "trial" ("key") `);
    await queryRunner.query(`DROP INDEX "IDX_d2b1c34c7fffdd4950f6bf49bf"`);
    await queryRunner.query(`DROP INDEX "IDX_c94fa5b8e78e181f2d7f9e6496"`);
    await queryRunner.query(
      `CREATE TABLE "temporary_trial" ("id" text PRIMARY KEY NOT NULL, "pieceId" text NOT NULL, "ordinal" integer NOT NULL, "key" text NOT NULL, "state" text NOT NULL, "recipe" text NOT NULL, "figures" text, "blob" text, "problem" text, "createdAt" text NOT NULL, CONSTRAINT "FK_d2b1c34c7fffdd4950f6bf49bfc" FOREIGN KEY ("pieceId") REFERENCES "piece" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)`,
    );
    await queryRunner.query(
      `INSERT INTO "temporary_trial"("id", "pieceId", "ordinal", "key", "state", "recipe", "figures", "blob", "problem", "createdAt") SELECT "id", "pieceId", "ordinal", "key", "state", "recipe", "figures", "blob", "problem", "createdAt" FROM "trial"`,
    );
    await queryRunner.query(`DROP TABLE "trial"`);
    await queryRunner.query(`ALTER TABLE "temporary_trial" RENAME TO "trial"`);
    await queryRunner.query(`CREATE INDEX "IDX_d2b1c34c7fffdd4950f6bf49bf" ON "trial" ("pieceId") `);
    await queryRunner.query(`CREATE INDEX "IDX_c94fa5b8e78e181f2d7f9e6496" ON "trial" ("key") `);
  }

  public async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`DROP INDEX "IDX_c94fa5b8e78e181f2d7f9e6496"`);
    await queryRunner.query(`DROP INDEX "IDX_d2b1c34c7fffdd4950f6bf49bf"`);
    await queryRunner.query(`ALTER TABLE "trial" RENAME TO "temporary_trial"`);
    await queryRunner.query(
      `CREATE TABLE "trial" ("id" text PRIMARY KEY NOT NULL, "pieceId" text NOT NULL, "ordinal" integer NOT NULL, "key" text NOT NULL, "state" text NOT NULL, "recipe" text NOT NULL, "figures" text, "blob" text, "problem" text, "createdAt" text NOT NULL)`,
    );
    await queryRunner.query(
      `INSERT INTO "trial"("id", "pieceId", "ordinal", "key", "state", "recipe", "figures", "blob", "problem", "createdAt") SELECT "id", "pieceId", "ordinal", "key", "state", "recipe", "figures", "blob", "problem", "createdAt" FROM "temporary_trial"`,
    );
    await queryRunner.query(`DROP TABLE "temporary_trial"`);
    await queryRunner.query(`CREATE INDEX "IDX_c94fa5b8e78e181f2d7f9e6496" ON "trial" ("key") `);
    await queryRunner.query(`CREATE INDEX "IDX_d2b1c34c7fffdd4950f6bf49bf" ON "trial" ("pieceId") `);
    await queryRunner.query(`DROP INDEX "IDX_c94fa5b8e78e181f2d7f9e6496"`);
    await queryRunner.query(`DROP INDEX "IDX_d2b1c34c7fffdd4950f6bf49bf"`);
    await queryRunner.query(`DROP TABLE "trial"`);
    await queryRunner.query(`DROP TABLE "piece"`);
    await queryRunner.query(`DROP TABLE "footage"`);
  }
}
