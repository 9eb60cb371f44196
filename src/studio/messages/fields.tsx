'use client';

import type { ComponentProps } from 'react';
import { phoneNumberSchema } from '@/core/messages/actions/phone';
import { addressSchema, wordsUpTo } from '@/core/messages/bounds';
import { CheckedText } from '../parts/CheckedText';

type Given = Omit<ComponentProps<typeof CheckedText>, 'isGood' | 'fits'>;

const isAddress = (text: string): boolean => addressSchema().safeParse(text).success;
export const ADDRESS_FITS = 'an address begins with /, http:// or https://';

/** Where something leads to, or a picture is. */
export const Address = (given: Given) => <CheckedText {...given} isGood={isAddress} fits={ADDRESS_FITS} />;

const isPhoneNumber = (text: string): boolean => phoneNumberSchema().safeParse(text).success;
/** What a telephone rings. */
export const PhoneNumber = (given: Given) => (
  <CheckedText {...given} isGood={isPhoneNumber} fits="a number has digits, spaces and ( ) . / - alone, such as +43 512 000" />
);

/** Words that must be some. */
export const Words = ({ most = 2000, ...given }: Given) => (
  <CheckedText {...given} most={most} isGood={(text) => wordsUpTo(most).safeParse(text).success} fits="write a word or more" />
);

/** Words, or none. */
export function Text({
  label,
  value,
  placeholder,
  onChange,
}: {
  label: string;
  value: string;
  placeholder?: string;
  onChange: (value: string) => void;
}) {
  return (
    <input
      aria-label={label}
      className="field min-w-0 flex-1"
      value={value}
      placeholder={placeholder}
      maxLength={2000}
      onChange={({ target }) => onChange(target.value)}
    />
  );
}
