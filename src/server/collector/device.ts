import Bowser from 'bowser';
import type { Device } from '@/core/history/visitor';

/** Tablets that say they are desktops are told by their touch points: no Mac has any. */
export function deviceOf(userAgent: string, touchPoints = 0): Device {
  if (!userAgent) return {};
  const found = Bowser.parse(userAgent);
  const isTabletInDisguise = found.os.name === 'macOS' && touchPoints > 1;
  const category = isTabletInDisguise ? 'tablet' : categoryOf(found.platform.type);
  const os = isTabletInDisguise ? 'iOS' : found.os.name;
  return { ...(category ? { category } : {}), ...(os ? { os } : {}), ...(found.browser.name ? { browser: found.browser.name } : {}) };
}

function categoryOf(type: string | undefined): Device['category'] {
  if (type === 'mobile') return 'phone';
  return type === 'desktop' || type === 'tablet' ? type : undefined;
}
