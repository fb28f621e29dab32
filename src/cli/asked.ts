import { TuningError } from 'apperin';
import { CaptureError } from 'apperin/lab';
import { CallError } from './exit.js';

/**
 * What the lab says of an argument is said of the call.
 * @param where what it is about, such as a file
 */
export function asked<T>(make: () => T, where = ''): T {
  const said = (error: unknown): never => {
    if (error instanceof RangeError || error instanceof TuningError || error instanceof CaptureError)
      throw new CallError(`${where === '' ? '' : `${where}: `}${error.message}`);
    throw error;
  };
  try {
    const made = make();
    return made instanceof Promise ? (made.catch(said) as T) : made;
  } catch (error) {
    return said(error);
  }
}
