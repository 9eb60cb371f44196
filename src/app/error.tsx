'use client';

export { ScreenFailure as default } from '@/studio/parts/layout/ScreenFailure';
