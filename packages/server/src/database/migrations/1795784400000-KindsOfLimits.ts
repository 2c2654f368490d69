import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What the made-up destinations that ship take. */
const SHIPPED: Readonly<Record<string, readonly string[]>> = {
  'chat-square': ['gif', 'webp', 'mp4'],
  'advert-panel': ['gif', 'apng'],
  'shop-banner': ['gif', 'webp', 'avif', 'mp4', 'webm'],
  'message-sticker': ['gif', 'webp', 'apng'],
};

/** Destinations say which kinds of file they take. */
export class KindsOfLimits1795784400000 implements MigrationInterface {
  name = 'KindsOfLimits1795784400000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE "destination_limit" ADD COLUMN "kinds" text`);
    for (const [id, kinds] of Object.entries(SHIPPED)) {
      await queryRunner.query(`UPDATE "destination_limit" SET "kinds" = ? WHERE "id" = ?`, [
        ...[JSON.stringify(kinds), id],
      ]);
    }
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE "destination_limit" DROP COLUMN "kinds"`);
  }
}
