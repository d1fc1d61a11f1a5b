// Many operations as calls, as many a call as a server takes.
import ua from 'node-opcua-client';

const { StatusCodes } = ua;

const TOO_MANY = [
  StatusCodes.BadTooManyOperations,
  StatusCodes.BadTooManyMonitoredItems,
  StatusCodes.BadEncodingLimitsExceeded,
  StatusCodes.BadRequestTooLarge,
  StatusCodes.BadResponseTooLarge,
  StatusCodes.BadTcpMessageTooLarge,
].map(s => s.value);

/** The status an error of the library tells of; often it hands on no more than words that name it. */
export function statusOf(e) {
  const named = /\b(Bad[A-Z][A-Za-z]+)\b/.exec(String(e?.message ?? e));
  return e?.status ?? e?.response?.responseHeader?.serviceResult?.value ?? (named ? StatusCodes[named[1]]?.value : undefined);
}

/**
 * Answers of all calls, in order. A server that takes fewer a call than it says is asked for half as many, from then on; what is to be told
 * after each is.
 */
export async function inCalls(limits, kind, items, call, after = () => {}) {
  const all = [];
  for (let at = 0; at < items.length;) {
    const some = items.slice(at, at + limits[kind]);
    try {
      all.push(...(await call(some)));
      at += some.length;
      after();
    } catch (e) {
      if (some.length === 1 || !TOO_MANY.includes(statusOf(e))) throw e;
      limits[kind] = Math.ceil(some.length / 2);
    }
  }
  return all;
}
