/** Where messages stand. One at a time holds each; a quiet action holds none. Named slots are `slot:NAME`. */
export type Placement = 'overlay' | 'top' | 'bottom' | 'corner' | `slot:${string}` | 'none';
