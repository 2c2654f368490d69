/** What a destination accepts. */
export interface Limit {
  readonly id: string;
  readonly name: string;
  /** Pixels; null where any height will do. */
  readonly width: number;
  readonly height: number | null;
  readonly bytes: number;
  readonly seconds: number | null;
  readonly alpha: boolean;
}

/** Made-up destinations that ship with the application. */
export const SHIPPED_LIMITS: readonly Limit[] = [
  {
    id: 'chat-square',
    name: 'Chat square',
    width: 320,
    height: 320,
    bytes: 600_000,
    seconds: null,
    alpha: false,
  },
  {
    id: 'blog-column',
    name: 'Blog column',
    width: 560,
    height: null,
    bytes: 900_000,
    seconds: null,
    alpha: false,
  },
  {
    id: 'advert-panel',
    name: 'Advert panel',
    width: 336,
    height: 280,
    bytes: 120_000,
    seconds: 20,
    alpha: false,
  },
  {
    id: 'shop-banner',
    name: 'Shop banner',
    width: 960,
    height: 200,
    bytes: 750_000,
    seconds: null,
    alpha: false,
  },
  {
    id: 'message-sticker',
    name: 'Message sticker',
    width: 512,
    height: 512,
    bytes: 280_000,
    seconds: null,
    alpha: true,
  },
];
