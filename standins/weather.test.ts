import { weatherAt } from './weather';

test('the same place and day have the same weather; winters are colder', () => {
  const on = (day: string) => weatherAt({ lat: 47.3, lon: 11.4, day });
  expect(on('2026-01-15')).toEqual(on('2026-01-15'));
  const mean = (month: string): number => {
    const days = Array.from({ length: 28 }, (_, day) => on(`2026-${month}-${String(day + 1).padStart(2, '0')}`).celsius);
    return days.reduce((sum, celsius) => sum + celsius, 0) / days.length;
  };
  expect(mean('01')).toBeLessThan(mean('07') - 10);
});
