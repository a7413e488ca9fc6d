/** Keys of what acts as a button without being one, as drawings do. */
import type { KeyboardEvent } from 'react';

/** Calls `act` on Enter and Space, which then mean nothing else. */
export const pressed = (act: () => void) => (e: KeyboardEvent) => {
  if (e.key !== 'Enter' && e.key !== ' ') return;
  e.preventDefault();
  e.stopPropagation();
  act();
};
