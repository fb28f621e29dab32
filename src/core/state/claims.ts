import type { Body } from './body.js';

/** Whether a claim stops an ability, or the built-in run. */
export function isClaimed({ claims, claimed }: Body, name: string): boolean {
  for (let i = 0; i < claimed; i++) if (!claims[i]!.includes(name)) return true;
  return false;
}
