import type { Brand } from '@/core/brand/brand';

/** What all messages of the demo site have in common. */
export const BRAND: Brand = {
  corners: 6,
  senders: [
    { name: 'Jorun', role: 'Warden at Skarn Shelter' },
    { name: 'The booking desk', role: 'Every day until six' },
  ],
  values: [
    { name: 'phone', text: '+43 512 555 010' },
    { name: 'quiet code', text: 'QUIET-33' },
  ],
};
