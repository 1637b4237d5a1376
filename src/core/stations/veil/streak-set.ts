import type { Look } from '../../look/look';

type StreakSettings = Look['veil']['streaks'][number];

/**
 * Streaks that make a number of arms, evenly round the light, of an amount in all: whole lines where arms lie opposite each other,
 * else half ones. They begin at the angle of `like`, and are like it otherwise.
 */
export function arms(
  count: number,
  amount: number,
  like: Partial<StreakSettings> = {},
): Partial<StreakSettings>[] {
  const isEven = count % 2 === 0;
  const lines = isEven ? count / 2 : count;
  const turn = 360 / count;
  const first = like.angle ?? 0;
  return Array.from({ length: lines }, (_, k) => ({
    ...like,
    amount: amount / lines,
    angle: withinTurn(first + k * turn),
    back: isEven ? 1 : 0,
  }));
}

/** An angle between -180 and 180 degrees, to hundredths. */
function withinTurn(degrees: number): number {
  const turned = ((((degrees + 180) % 360) + 360) % 360) - 180;
  return Number(turned.toFixed(2));
}
