import { TuningError } from '../core/index.js';
import { CallError } from './exit.js';

/**
 * What the lab says of an argument is said of the call.
 * @param where what it is about, such as a file
 */
export function asked<T>(make: () => T, where = ''): T {
  try {
    return make();
  } catch (error) {
    if (error instanceof RangeError || error instanceof TuningError)
      throw new CallError(`${where === '' ? '' : `${where}: `}${error.message}`);
    throw error;
  }
}
