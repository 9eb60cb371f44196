import type { Weather } from '@/core/history/visitor';
import { createDice } from '@/core/random/dice';
import { DAY_MS } from '@/core/time/day';

/** Made-up weather that is the same for the same place and day, colder in winter, in the north and south, and by chance. */
export function weatherAt({ lat, lon, day }: { lat: number; lon: number; day: string }): {
  is: NonNullable<Weather['is']>;
  celsius: number;
} {
  const dice = createDice(`${Math.round(lat * 2)} ${Math.round(lon * 2)} ${day}`);
  const dayOfYear = (Date.parse(`${day}T00:00:00Z`) / DAY_MS) % 365.25;
  const season = -Math.cos(((dayOfYear - 15) / 365.25) * 2 * Math.PI) * (lat >= 0 ? 1 : -1);
  const celsius = Math.round(24 - Math.abs(lat) * 0.32 + season * 10 + (dice.next() - 0.5) * 10);
  const wet = dice.next();
  if (wet > 0.97) return { is: 'storm', celsius };
  if (wet > 0.7) return { is: celsius <= 1 ? 'snow' : 'rain', celsius };
  if (wet > 0.62) return { is: 'fog', celsius };
  return { is: wet > 0.35 ? 'cloud' : 'clear', celsius };
}
