import type { PixelFrame } from '@muted-pond/core/pixels';
import { cloud, draw, type Filmed, hash, mixed, noise, type Scene, WAYS, wall } from './drawing.js';
import { SCENES } from './woven-takes.js';

const [STEADY, BY_HAND] = WAYS;

/** Where a place lies on something round that has turned: −1 … 1 across; null beside it. */
function onRound(x: number, y: number, middle: readonly [number, number], radius: readonly [number, number]) {
  const [dx, dy] = [(x - middle[0]) / radius[0], (y - middle[1]) / radius[1]];
  return dx * dx + dy * dy < 1 ? { across: Math.asin(dx / Math.sqrt(1 - dy * dy)), down: dy } : null;
}

/** What moves in takes that joints are judged on, beside what weaves are; none of it comes back. */
const MORE_SCENES: Readonly<Record<string, Scene>> = {
  face: (x, y, t) => {
    const angle = 0.5 * Math.sin(t / 19) + 0.3 * Math.sin(t / 31 + 1);
    const place = onRound(x, y, [160 + 22 * angle, 92 + 4 * Math.sin(t / 23)], [52, 68]);
    if (!place) return wall(x, y);
    const { across, down } = place;
    const at = across - angle;
    const isNear = (a: number, d: number, w: number, h: number) =>
      ((at - a) / w) ** 2 + ((down - d) / h) ** 2 < 1;
    const light = 0.75 + 0.25 * Math.cos(across);
    const skin = light * (186 + 26 * cloud(at * 9, down * 9, 4));
    if (isNear(-0.42, -0.2, 0.17, 0.08) || isNear(0.42, -0.2, 0.17, 0.08)) return [46, 38, 36];
    if (isNear(-0.42, -0.36, 0.22, 0.05) || isNear(0.42, -0.36, 0.22, 0.05)) return [78, 58, 46];
    if (isNear(0, 0.42, 0.3, 0.07)) return [150, 62, 62];
    if (isNear(0, 0.1, 0.08, 0.2)) return [skin * 0.85, skin * 0.66, skin * 0.56];
    if (down < -0.55) return [60 + 30 * cloud(at * 20, down * 14, 9), 44, 34];
    return [skin, skin * 0.8, skin * 0.7];
  },
  box: (x, y, t) => {
    const [cx, cy] = [150 + 26 * noise(t / 15, 1, 5), 80 + 22 * noise(t / 13, 2, 5)];
    const angle = 0.5 * (noise(t / 21, 3, 5) - 0.5);
    const [dx, dy] = [x - cx, y - cy];
    const [a, b] = [dx * Math.cos(angle) + dy * Math.sin(angle), dy * Math.cos(angle) - dx * Math.sin(angle)];
    if (Math.abs(a) > 52 || Math.abs(b) > 36) return wall(x, y);
    if (Math.abs(a) > 48 || Math.abs(b) > 32) return [120, 88, 40];
    if (b > -22 && b < -6)
      return hash(Math.floor(a / 5), Math.floor(b / 8), 3) > 0.4 ? [160, 30, 34] : [240, 224, 190];
    const mark = cloud(a / 11, b / 11, 6);
    return mixed([214, 186, 110], [70, 92, 60], Math.max(0, Math.min(1, 4 * mark - 1.7)));
  },
  cup: (x, y, t) => {
    const [dx, dy] = [(x - 160) / 46, (y - 95) / 54];
    if (Math.abs(dx) >= 1 || Math.abs(dy) >= 1) return wall(x, y);
    const across = Math.asin(dx);
    const at = across + t / 24;
    const light = 0.55 + 0.45 * Math.cos(across - 0.5);
    const column = Math.floor(at / 0.42);
    const isMark = dy > -0.45 && dy < 0.4 && hash(column, Math.floor((dy + 1) * 5), 12) > 0.5;
    const base = isMark ? [44, 78, 132] : [226, 222, 212];
    return [base[0] * light, base[1] * light, base[2] * light];
  },
  text: (x, y, t) => {
    const row = Math.floor(y / 20);
    const within = y - 20 * row;
    const moved = x + 1.2 * t * (row % 2 === 0 ? 1 : 0.6);
    const letter = Math.floor(moved / 9);
    const stroke = hash(Math.floor(moved / 3), Math.floor(within / 3), row) > 0.45;
    const isInk = within > 5 && within < 17 && moved - 9 * letter < 7 && hash(letter, row, 2) > 0.2 && stroke;
    return isInk ? [30, 32, 40] : [228, 226, 216];
  },
  shadows: (x, y, t) => {
    const bars = Math.sin((x + 0.5 * y) / 26 + 1.6 * Math.sin(t / 29) + t / 37);
    const dark = 1 - 0.42 / (1 + Math.exp(-4 * bars));
    const [r, g, b] = wall(x, y);
    return [r * dark, g * dark, b * dark];
  },
  reflections: (x, y, t) => {
    if (x < 50 || x > 280 || y < 24 || y > 158) return wall(x, y);
    const behind = hash(Math.floor(x / 23), Math.floor(y / 31), 21) > 0.5 ? 92 : 60;
    const glide = x + 1.5 * t;
    const house = Math.floor(glide / 46);
    const roof = 60 + 50 * hash(house, 1, 8);
    const window = (glide % 46) % 15 < 7 && (y - roof) % 18 < 9;
    const shine = y < roof ? 150 : window ? 190 : 40 + 60 * hash(house, 2, 8);
    const grey = behind + 0.38 * shine;
    return [grey, grey + 4, grey + 10];
  },
  enters: (x, y, t) => {
    const arm = t < 96 ? -40 : -40 + 5.5 * (t - 96);
    const isArm = x < arm && Math.abs(y - 118 + 0.12 * x) < 17 + 5 * Math.sin(x / 9);
    if (isArm) return [198 + 20 * cloud(x / 8, y / 8, 2), 150, 122];
    const steam =
      Math.exp(-(((x - 190) / 30) ** 2)) * Math.max(0, 1.7 * cloud(x / 16, (y + 2 * t) / 22, t / 30) - 0.5);
    return mixed(wall(x, y), [236, 236, 234], steam);
  },
};

/** The takes that joints are judged on, by their names. */
const TAKES: Readonly<Record<string, readonly [Scene, Filmed]>> = {
  ...Object.fromEntries(
    Object.entries(MORE_SCENES).map(([name, scene]) => [name, [scene, name === 'box' ? BY_HAND : STEADY]]),
  ),
  ...Object.fromEntries(
    Object.entries(SCENES).flatMap(([name, of]) => [
      [name, [of(null), STEADY]],
      [`${name}, noisy`, [of(null), BY_HAND]],
      [`${name}, 48`, [of(48), STEADY]],
    ]),
  ),
};

/** @throws Error where there is no such take. */
export function drawnJointTake(name: string): PixelFrame[] {
  if (!Object.hasOwn(TAKES, name)) throw new Error(`No take is called “${name}”.`);
  return draw(...TAKES[name]);
}
