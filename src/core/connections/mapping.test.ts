import fc from 'fast-check';
import { EVERYTHING, mapLead, mappingSchema, mappingWords } from './mapping';

const LEAD = {
  email: 'anna@post.example',
  fields: { 'for whom': 'A family', message: 'With a dog', agreed: true },
  tags: ['rang back'],
  campaign: { name: 'Packing list' },
};

test('without a mapping everything goes, the campaign’s name as a tag', () => {
  expect(mapLead(LEAD)).toEqual({ email: LEAD.email, fields: LEAD.fields, tags: ['rang back', 'Packing list'] });
});

test('chosen answers go under the names that are wanted there, and only what the lead has', () => {
  const mapping = {
    email: true,
    answers: [{ answer: 'for whom', as: 'plan' }, { answer: 'nights' }],
    tags: ['packing list'],
    campaign: false,
  };
  expect(mapLead(LEAD, mapping)).toEqual({ email: LEAD.email, fields: { plan: 'A family' }, tags: ['rang back', 'packing list'] });
  expect(mapLead({ ...LEAD, fields: {} }, mapping).fields).toEqual({});
  expect(mapLead(LEAD, { ...mapping, email: false }).email).toBeNull();
});

test('the names of what every object has are answers only where somebody gave them', () => {
  expect(mapLead(LEAD, { ...EVERYTHING, answers: [{ answer: 'toString' }, { answer: 'constructor', as: 'x' }] }).fields).toEqual({});
});

test('it is said as a sentence', () => {
  expect(mappingWords({ email: true, answers: [{ answer: 'for whom', as: 'plan' }], tags: ['packing list'], campaign: false })).toBe(
    'their email, the answer to “for whom” as “plan” and tag “packing list”',
  );
  expect(mappingWords(EVERYTHING)).toBe('their email, all answers and the campaign’s name as a tag');
  expect(mappingWords({ email: false, answers: [], tags: [], campaign: false })).toBe('nothing');
});

test('whatever is mapped has no answer that the lead has not, and each tag once', () => {
  fc.assert(
    fc.property(
      fc.dictionary(fc.string(), fc.string()),
      fc.array(fc.record({ answer: fc.string(), as: fc.string() })),
      fc.array(fc.string()),
      (fields, answers, tags) => {
        const mapped = mapLead({ ...LEAD, fields, tags }, { email: true, answers, tags, campaign: true });
        expect(new Set(mapped.tags).size).toBe(mapped.tags.length);
        for (const value of Object.values(mapped.fields)) expect(Object.values(fields)).toContain(value);
      },
    ),
  );
});

test('a mapping without a name to an answer is refused', () => {
  expect(mappingSchema.safeParse({ email: true, answers: [{ answer: ' ' }], tags: [], campaign: true }).success).toBe(false);
});
