import { Turns } from './turns';

test('what is slow stands back while anything quick is under way, and goes on after it', async () => {
  const turns = new Turns();
  const said: string[] = [];
  await turns.next({ kind: 'trends' });
  const [one, other] = [turns.begin({ kind: 'sizes' }), turns.begin({ kind: 'visits' })];
  const slow = turns.next({ kind: 'trends' }).then(() => said.push('trends'));
  await turns.next({ kind: 'sizes' });
  await turns.next({ kind: 'rehearse' });
  one();
  await Promise.resolve();
  expect(said).toEqual([]);
  other();
  await slow;
  expect(said).toEqual(['trends']);
});

test('slow ones do not wait for one another', async () => {
  const turns = new Turns();
  turns.begin({ kind: 'trends' });
  await expect(turns.next({ kind: 'portfolio' })).resolves.toBeUndefined();
});
