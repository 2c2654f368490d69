import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * A piece has one trial of each file, and one of each letter. Of doubles that two requests at the same moment have
 * made, the one that somebody pinned, or that is finished, or that is newer, stays; doubled letters are given anew.
 */
export class UniqueTrials1795900000000 implements MigrationInterface {
  name = 'UniqueTrials1795900000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      `DELETE FROM "trial" WHERE "id" IN (SELECT "id" FROM (SELECT "id", ROW_NUMBER() OVER (PARTITION BY "pieceId", "key" ORDER BY "pinned" DESC, "state" = 'done' DESC, "createdAt" DESC) AS "place" FROM "trial") WHERE "place" > 1)`,
    );
    await queryRunner.query(
      `WITH "placed" AS (SELECT "id", "pieceId", ROW_NUMBER() OVER (PARTITION BY "pieceId", "ordinal" ORDER BY "createdAt", "id") AS "place" FROM "trial"), "doubled" AS (SELECT "id", "pieceId", ROW_NUMBER() OVER (PARTITION BY "pieceId" ORDER BY "id") AS "step" FROM "placed" WHERE "place" > 1), "last" AS (SELECT "pieceId", MAX("ordinal") AS "ordinal" FROM "trial" GROUP BY "pieceId") UPDATE "trial" SET "ordinal" = (SELECT "last"."ordinal" + "doubled"."step" FROM "doubled" JOIN "last" ON "last"."pieceId" = "doubled"."pieceId" WHERE "doubled"."id" = "trial"."id") WHERE "id" IN (SELECT "id" FROM "doubled")`,
    );
    await queryRunner.query(`CREATE UNIQUE INDEX "IDX_trial_piece_key" ON "trial" ("pieceId", "key")`);
    await queryRunner.query(
      `CREATE UNIQUE INDEX "IDX_trial_piece_ordinal" ON "trial" ("pieceId", "ordinal")`,
    );
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`DROP INDEX "IDX_trial_piece_ordinal"`);
    await queryRunner.query(`DROP INDEX "IDX_trial_piece_key"`);
  }
}
