import { sourceOf } from './source';

const own = ['www.tarnhollow.example'];
test.each([
  { url: 'https://www.tarnhollow.example/?utm_medium=CPC', referrer: 'https://www.google.com/', channel: 'paid' },
  { url: 'https://www.tarnhollow.example/?utm_medium=newsletter', referrer: '', channel: 'email' },
  { url: 'https://www.tarnhollow.example/', referrer: 'https://m.facebook.com/x', channel: 'social' },
  { url: 'https://www.tarnhollow.example/', referrer: 'https://www.google.co.uk/', channel: 'search' },
  { url: 'https://www.tarnhollow.example/', referrer: 'https://trailnotes.example/', channel: 'referral' },
  { url: 'https://www.tarnhollow.example/', referrer: 'https://www.tarnhollow.example/huts', channel: 'direct' },
  { url: 'https://www.tarnhollow.example/', referrer: 'https://notgoogle.example.com/', channel: 'referral' },
  { url: 'nonsense', referrer: 'nonsense', channel: 'direct' },
])('$url from “$referrer” is $channel', ({ url, referrer, channel }) => {
  expect(sourceOf({ url, referrer, ownHosts: own }).channel).toBe(channel);
});

test('campaign parameters are kept, and a referrer only if it is another site', () => {
  const source = sourceOf({
    url: 'https://www.tarnhollow.example/?utm_source=a&utm_campaign=b&x=c',
    referrer: 'https://trailnotes.example/p',
    ownHosts: own,
  });
  expect(source).toEqual({ channel: 'referral', referrer: 'trailnotes.example', utm: { source: 'a', campaign: 'b' } });
});
