import { FileError } from 'apperin/files';

/** What is wrong, with its place in a file where it has one. */
export function messageOf(error: unknown): string {
  if (error instanceof FileError) {
    const [first] = error.problems;
    return `${first!.file}:${first!.line}:${first!.column}: ${first!.message}`;
  }
  return (error as Error).message;
}
