/** A sentence for the person at the terminal; the command ends with exit code 1. */
export class CommandError extends Error {}
