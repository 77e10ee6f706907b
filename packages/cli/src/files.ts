import {
  closeSync,
  existsSync,
  lstatSync,
  mkdirSync,
  openSync,
  readFileSync,
  readlinkSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { CommandError } from './command-error.ts';

/** Why a file cannot be read or written, after its name and a colon. */
function reason(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  switch (code) {
    case 'ENOENT':
      return 'there is no such file or folder';
    case 'EISDIR':
      return 'that is a folder, not a file';
    case 'ELOOP':
      return 'its links lead round in a circle';
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
 * Makes a folder and those it lies in, from the outermost that is missing inwards. Each is tried once: where the system
 * refuses one as if what it lies in were not there, that is an error and no reason to begin again.
 */
function makeFolders(path: string): void {
  const missing: string[] = [];
  let at = path;
  while (!existsSync(at) && dirname(at) !== at) {
    missing.push(at);
    at = dirname(at);
  }
  for (const folder of missing.reverse())
    try {
      mkdirSync(folder);
    } catch (error) {
      // Somebody else may have made it meanwhile.
      if (!statSync(folder, { throwIfNoEntry: false })?.isDirectory()) throw error;
    }
}

/** Most links that lead to one another, as systems have it. */
const MOST_LINKS = 40;

/** Where a path leads in the end, whether there is something there or not. */
function throughLinks(path: string): string {
  let at = path;
  for (let i = 0; i < MOST_LINKS; i++) {
    if (!lstatSync(at, { throwIfNoEntry: false })?.isSymbolicLink()) return at;
    at = resolve(dirname(at), readlinkSync(at));
  }
  return at;
}

/**
 * Writes a file, with the folders it lies in, so that it is there whole or not at all: aside first, then put in place.
 * An interrupt waits for that, and for nothing else: a pipe that nobody reads may never take what is written.
 * @throws CommandError with its name
 */
export async function writeWhole(path: string, content: string | Uint8Array): Promise<void> {
  const stop = () => process.exit(130);
  let aside = '';
  let isAside = false;
  try {
    // A link is written through: what it leads to is replaced, the link stays.
    const target = throughLinks(path);
    aside = join(dirname(target), `.${basename(target)}.${process.pid}.part`);
    makeFolders(dirname(target));
    const there = statSync(target, { throwIfNoEntry: false });
    if (there?.isDirectory()) throw Object.assign(new Error('a folder'), { code: 'EISDIR' });
    if (there && !there.isFile()) {
      // A pipe or a device is written through; nothing can be put in its place.
      writeFileSync(target, content);
      return;
    }
    // One that may not be changed is not replaced either.
    if (there) closeSync(openSync(target, 'r+'));
    process.on('SIGINT', stop);
    process.on('SIGTERM', stop);
    isAside = true;
    writeFileSync(aside, content);
    renameSync(aside, target);
  } catch (error) {
    if (isAside) rmSync(aside, { force: true });
    throw new CommandError(`${path}: ${reason(error)}.`);
  } finally {
    // Signals that came meanwhile are told now.
    if (isAside) await new Promise((resolve) => setImmediate(resolve));
    process.off('SIGINT', stop);
    process.off('SIGTERM', stop);
  }
}
