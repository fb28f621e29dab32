import { Session } from 'node:inspector/promises';

/**
 * How much work a call is, counted: how often any stretch of code in the package ran. The same for the same call, whatever else the machine does.
 * What the engine does by itself (regular expressions, sorting) is not seen.
 */
export async function workOf(call: () => unknown): Promise<number> {
  const session = new Session();
  session.connect();
  await session.post('Profiler.enable');
  await session.post('Profiler.startPreciseCoverage', { callCount: true, detailed: true });
  await session.post('Profiler.takePreciseCoverage');
  try {
    call();
  } catch {
    // A refusal is an answer.
  }
  const { result } = await session.post('Profiler.takePreciseCoverage');
  await session.post('Profiler.stopPreciseCoverage');
  session.disconnect();
  let work = 0;
  for (const { url, functions } of result)
    if (/\/(dist|node_modules)\//.test(url))
      for (const { ranges } of functions) for (const { count } of ranges) work += count;
  return work;
}
