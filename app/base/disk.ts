/** Telling a full disk from other failures. */

export const DISK_FULL = 'The disk is full. Nothing was changed; make room and try again.';

/**
 * Whether a failure means that nothing more can be written. SQLite takes a transaction back by itself when its disk is full,
 * and Knex then only tells that there was nothing to take back.
 */
export function isFull(error: unknown): boolean {
  const { code = '', message = '' } = error as { code?: string; message?: string };
  return (
    ['ENOSPC', 'EDQUOT', 'SQLITE_FULL'].includes(code) ||
    /No space left|database or disk is full|cannot rollback - no transaction is active/i.test(message)
  );
}
