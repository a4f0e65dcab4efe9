/** What cannot be done, in one sentence; exit code 2. */
export class CannotDo extends Error {}
