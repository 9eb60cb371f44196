import proxyaddr from 'proxy-addr';

/** Whether it is believed of somebody at `address`, the `nth` in front of us from 0 on, whom they speak for. */
export type Trust = (address: string, nth: number) => boolean;

/**
 * `CRINDLE_TRUST_PROXY`: how many proxies there are, or their addresses and networks with commas; nobody's word is taken without. They are counted from the
 * right of `X-Forwarded-For`, where what a client wrote itself never stands. @throws where it is neither
 */
export function trustOf(text: string | undefined): Trust {
  const given = text?.trim() ?? '';
  if (given === '' || given === '0') return () => false;
  if (/^\d$/.test(given)) return (_address, nth) => nth < Number(given);
  try {
    if (/^\d+$/.test(given)) throw new RangeError('more than 9');
    return proxyaddr.compile(given.split(',').map((one) => one.trim()));
  } catch {
    throw new Error(
      `CRINDLE_TRUST_PROXY: met "${given}", expected how many proxies there are (1 to 9), or their addresses or networks with commas`,
    );
  }
}
