// What can be told of a segment's members, outside.

export const MEMBER_COLUMNS = [
  'visitor',
  'email',
  'email_sha256',
  'customer',
  'browser',
  'first_visit',
  'last_visit',
  'visits',
  'agreed',
] as const;
export type MemberColumn = (typeof MEMBER_COLUMNS)[number];

export const MEMBER_COLUMN_WORDS: Readonly<Record<MemberColumn, string>> = {
  visitor: 'visitor’s number',
  email: 'email',
  email_sha256: 'email as SHA-256',
  customer: 'customer id',
  browser: 'browser id',
  first_visit: 'first visit',
  last_visit: 'last visit',
  visits: 'number of visits',
  agreed: 'whether they agreed',
};

/** Everyone, only those with an email, or only those with one who agreed to something. */
export const MEMBER_CHOICES = ['all', 'email', 'agreed'] as const;
export type MemberChoice = (typeof MEMBER_CHOICES)[number];
