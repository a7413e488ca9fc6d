/** What is kept in this browser; nothing where pages are drawn on the server. */
export const keptHere = (name: string): string | null =>
  typeof localStorage === 'undefined' ? null : localStorage.getItem(name);
