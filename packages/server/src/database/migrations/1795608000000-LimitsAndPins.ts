import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The made-up destinations that ship, as they were when limits became rows. */
const SHIPPED: readonly (readonly [string, string, number, number | null, number, number | null, 0 | 1])[] = [
  ['chat-square', 'Chat square', 320, 320, 600_000, null, 0],
  ['blog-column', 'Blog column', 560, null, 900_000, null, 0],
  ['advert-panel', 'Advert panel', 336, 280, 120_000, 20, 0],
  ['shop-banner', 'Shop banner', 960, 200, 750_000, null, 0],
  ['message-sticker', 'Message sticker', 512, 512, 280_000, null, 1],
];

/** Limits can be edited; trials can be pinned and named. */
export class LimitsAndPins1795608000000 implements MigrationInterface {
  name = 'LimitsAndPins1795608000000';

  public async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      `CREATE TABLE "destination_limit" ("id" text PRIMARY KEY NOT NULL, "ordinal" integer NOT NULL, "name" text NOT NULL, "width" integer NOT NULL, "height" integer, "bytes" integer NOT NULL, "seconds" real, "frameRate" real, "alpha" boolean NOT NULL)`,
    );
    for (const [ordinal, [id, name, width, height, bytes, seconds, alpha]] of SHIPPED.entries()) {
      await queryRunner.query(`INSERT INTO "destination_limit" VALUES (?, ?, ?, ?, ?, ?, ?, NULL, ?)`, [
        ...[id, ordinal, name, width, height, bytes, seconds, alpha],
      ]);
    }
    await queryRunner.query(`ALTER TABLE "trial" ADD COLUMN "pinned" boolean NOT NULL DEFAULT (0)`);
    await queryRunner.query(`ALTER TABLE "trial" ADD COLUMN "name" text`);
  }

  public async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE "trial" DROP COLUMN "name"`);
    await queryRunner.query(`ALTER TABLE "trial" DROP COLUMN "pinned"`);
    await queryRunner.query(`DROP TABLE "destination_limit"`);
  }
}
