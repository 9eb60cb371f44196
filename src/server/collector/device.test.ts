import { deviceOf } from './device';

const MAC = 'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.4 Safari/605.1.15';
test.each([
  {
    agent:
      'Mozilla/5.0 (iPhone; CPU iPhone OS 17_4 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.4 Mobile/15E148 Safari/604.1',
    touch: 5,
    device: { category: 'phone', os: 'iOS', browser: 'Safari' },
  },
  {
    agent: 'Mozilla/5.0 (Linux; Android 14; Pixel 8) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/126.0.0.0 Mobile Safari/537.36',
    touch: 5,
    device: { category: 'phone', os: 'Android', browser: 'Chrome' },
  },
  {
    agent: 'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/126.0.0.0 Safari/537.36 Edg/126.0.0.0',
    touch: 0,
    device: { category: 'desktop', os: 'Windows', browser: 'Microsoft Edge' },
  },
  { agent: MAC, touch: 0, device: { category: 'desktop', os: 'macOS', browser: 'Safari' } },
  { agent: MAC, touch: 5, device: { category: 'tablet', os: 'iOS', browser: 'Safari' } },
  { agent: '', touch: 0, device: {} },
  { agent: 'something nobody knows', touch: 0, device: {} },
])('$agent with $touch touch points is $device', ({ agent, touch, device }) => {
  expect(deviceOf(agent, touch)).toMatchObject(device);
});
