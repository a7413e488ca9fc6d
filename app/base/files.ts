import { stat } from 'node:fs/promises';

/** Whether there is a file, and not a folder, at a path. */
export const isFile = (path: string): Promise<boolean> =>
  stat(path).then(
    (s) => s.isFile(),
    () => false,
  );
