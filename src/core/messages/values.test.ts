import { merged } from './merge';
import { valuesOf } from './values';

const visitor = { traits: { 'First Name': 'Runa', plan: 3, member: true, city: 'Bergen' }, location: { city: 'Oslo', country: 'NO' } };

test('traits and the place are put in by their names, a trait before the place, and only what is wanted leaves', () => {
  expect(valuesOf(visitor)).toEqual({ first_name: 'Runa', plan: '3', city: 'Bergen', country: 'NO' });
  expect(valuesOf(visitor, ['first_name', 'nothing', 'member'])).toEqual({ first_name: 'Runa' });
  expect(valuesOf({ traits: {} })).toEqual({});
  expect(merged('{first name, or you} in {city, or town}', valuesOf(visitor))).toBe('Runa in Bergen');
});
