import { closeSync, mkdirSync, openSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { CommandError } from './command-error.ts';

/** Why a file cannot be read or written, after its name and a colon. */
function reason(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  switch (code) {
    case 'ENOENT':
      return 'there is no such file or folder';
    case 'EISDIR':
      return 'that is a folder, not a file';
    case 'ENOTDIR':
    case 'EEXIST':
      return 'a part of that path is a file, not a folder';
    case 'EACCES':
    case 'EPERM':
      return 'it may not be opened; ask for the right to, or choose another place';
    case 'EROFS':
      return 'that disk can only be read; choose another place';
    case 'ENOSPC':
    case 'EDQUOT':
    case 'EFBIG':
      return 'there is no room left on the disk';
    case 'ENAMETOOLONG':
      return 'that name is too long';
    case 'ERR_STRING_TOO_LONG':
    case 'ERR_FS_FILE_TOO_LARGE':
      return 'it is too large to be read';
    default:
      return `it cannot be used (${message.replace(/,.*$/, '')})`;
  }
}

/** The text of a file. @throws CommandError with its name */
export function readText(path: string): string {
  try {
    return readFileSync(path, 'utf8');
  } catch (error) {
    throw new CommandError(`${path}: ${reason(error)}.`);
  }
}

/**
 * Writes a file, with the folders it lies in, so that it is there whole or not at all: aside first, then put in place.
 * An interrupt waits for that. @throws CommandError with its name
 */
export async function writeWhole(path: string, content: string | Uint8Array): Promise<void> {
  const stop = () => process.exit(130);
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  const aside = join(dirname(path), `.${basename(path)}.${process.pid}.part`);
  let isAside = false;
  try {
    mkdirSync(dirname(path), { recursive: true });
    const there = statSync(path, { throwIfNoEntry: false });
    if (there?.isDirectory()) throw Object.assign(new Error('a folder'), { code: 'EISDIR' });
    if (there && !there.isFile()) {
      // A pipe or a device is written through; nothing can be put in its place.
      writeFileSync(path, content);
      return;
    }
    // One that may not be changed is not replaced either.
    if (there) closeSync(openSync(path, 'r+'));
    isAside = true;
    writeFileSync(aside, content);
    renameSync(aside, path);
  } catch (error) {
    if (isAside) rmSync(aside, { force: true });
    throw new CommandError(`${path}: ${reason(error)}.`);
  } finally {
    // Signals that came meanwhile are told now.
    await new Promise((resolve) => setImmediate(resolve));
    process.off('SIGINT', stop);
    process.off('SIGTERM', stop);
  }
}
