// The OPC UA client of Fralto. One JSON object a line comes in by standard input and goes out by standard output, which carries nothing
// else; what libraries have to say goes to standard error. It ends when its input ends, so that none is left when its parent is gone.
//
//   {"id":1,"op":"endpoints","url":"opc.tcp://host:4840"}      what a server offers
//   {"id":2,"op":"open",...}                                   a secure channel and a session on it; one at a time
//   {"id":3,"op":"follow","interval":500,"items":[[handle,node,sampling,queue,deadband],...]}
//   {"id":4,"op":"drop","handles":[...]}
//   {"id":5,"op":"read","nodes":[node,...]}
//   {"id":6,"op":"write","node":node,"value":v,"element":n}    one value, or one element of an array
//   {"id":7,"op":"browse","from":node,"most":n}                variables below a node, in parts; {"on":n} to go on with
//   {"id":8,"op":"enough","browse":7}                          ends browsing number 7 with what it has found; it can be gone on with
//   {"id":9,"op":"level","node":node}                          objects directly below a node, and those above it
//   {"id":10,"op":"types"}                                     object types, and how many objects are of each
//   {"id":11,"op":"structure","node":node}                     an object or object type as a tree, and the objects of it
//   {"id":12,"op":"close"}
//
// Answered by {"id":1,"ok":{...}} or {"id":1,"error":"...","status":number}, with "ours":true where the words are ours; in parts by
// {"id":7,"part":[...]} before that, with nothing in them where a server is slow and has only answered once more.
// Unasked: {"data":[[handle,value,status,time],...]}, {"lost":"why"}, {"overtaken":n}.
// Nodes are written as OPC UA Part 6, 5.3.1.11 writes them, with their namespace's address: nsu=http://x/;s=Name. 64-bit integers, NaN and
// infinities are texts, for JSON has no such numbers.
import console from 'node:console';
import process from 'node:process';
import readline from 'node:readline';
import { OPCUACertificateManager } from 'node-opcua-certificate-manager';
import ua from 'node-opcua-client';
import { NumericRange } from 'node-opcua-numeric-range';
import { browseBelow, levelOf, objectTypesOf, structureOf } from './browse.mjs';
import { inCalls, statusOf } from './calls.mjs';
import { plain, variantOf } from './values.mjs';

// Standard output is the protocol's alone.
for (const word of ['log', 'info', 'debug', 'warn']) globalThis.console[word] = console.error;

const HANDLES_A_CALL = 500;
const KEEP_ALIVE_MS = 5000;
const MOST_BUFFERED = 4 * 1024 * 1024;
/** A server that knows no deadband for a node, or no range to take a percent of. */
const NO_FILTER = [
  ua.StatusCodes.BadFilterNotAllowed,
  ua.StatusCodes.BadMonitoredItemFilterInvalid,
  ua.StatusCodes.BadMonitoredItemFilterUnsupported,
  ua.StatusCodes.BadDeadbandFilterInvalid,
].map(s => s.value);
/** How servers refuse a client they do not trust: with a status, or by breaking off without a word (OPC UA Part 6, from memory). */
const DISTRUST = [
  undefined,
  ...[
    ua.StatusCodes.BadSecurityChecksFailed,
    ua.StatusCodes.BadCertificateUntrusted,
    ua.StatusCodes.BadConnectionRejected,
    ua.StatusCodes.BadConnectionClosed,
    ua.StatusCodes.BadSecureChannelClosed,
  ].map(s => s.value),
];
const NOT_TRUSTED =
  'the server broke off when the connection was to be secured; as a rule it does not trust us yet. Hand it our certificate, ' +
  'which the page Certificates gives out, and have it trusted there';
/** Walks through the address space that are kept to be gone on with; older ones are forgotten. */
const MOST_WALKS = 8;

let link = null;
let waiting = null;
let overtaken = 0;
let due = [];

/** Writes one line; while the parent does not read, data is kept back so that it cannot pile up. */
const say = line => process.stdout.write(`${JSON.stringify(line)}\n`);

/** Sends what has changed; when the pipe is behind, the newest of each handle waits and what it overtook is counted. */
function tell(changes) {
  if (waiting === null && process.stdout.writableLength < MOST_BUFFERED) {
    say({ data: changes });
    return;
  }
  if (waiting === null) {
    waiting = new Map();
    process.stdout.once('drain', () => {
      const rest = [...waiting.values()];
      waiting = null;
      if (overtaken > 0) say({ overtaken });
      overtaken = 0;
      if (rest.length > 0) tell(rest);
    });
  }
  for (const change of changes) {
    if (waiting.has(change[0])) overtaken++;
    waiting.set(change[0], change);
  }
}

function push(change) {
  if (due.length === 0)
    setImmediate(() => {
      const changes = due;
      due = [];
      tell(changes);
    });
  due.push(change);
}

class Link {
  constructor(client, session, namespaces, limits) {
    Object.assign(this, { client, session, namespaces, limits });
    this.subscriptions = new Map();
    this.items = new Map();
    this.walks = new Map();
    this.enough = new Set();
    this.isOver = false;
  }

  /** A node as the server numbers its namespaces now; null when it has no such namespace. */
  resolve(node) {
    const said = /^nsu=(.+?);([isgb]=.*)$/s.exec(node);
    if (said === null) return ua.resolveNodeId(node);
    const index = this.namespaces.indexOf(decodeURIComponent(said[1]));
    return index < 0 ? null : ua.resolveNodeId(`ns=${index};${said[2]}`);
  }

  /** A node with its namespace's address in place of its number. */
  spell(nodeId) {
    const text = nodeId.toString();
    if (nodeId.namespace === 0) return text.replace(/^ns=0;/, '');
    const uri = this.namespaces[nodeId.namespace] ?? `urn:unknown:${nodeId.namespace}`;
    return `nsu=${uri.replaceAll('%', '%25').replaceAll(';', '%3B')};${text.replace(/^ns=\d+;/, '')}`;
  }

  lost(why) {
    if (this.isOver) return;
    this.isOver = true;
    if (link === this) link = null;
    say({ lost: why });
    quietly(this.client.disconnect());
  }
}

const quietly = promise => promise.catch(e => console.error(String(e?.message ?? e)));

/** A promise that does not take longer than it may. */
function within(ms, promise, what) {
  let timer;
  const late = new Promise((_, refuse) => {
    timer = setTimeout(() => refuse(problem(`${what} took longer than ${ms} ms`, ua.StatusCodes.BadTimeout)), ms);
  });
  return Promise.race([promise, late]).finally(() => clearTimeout(timer));
}

function problem(message, status = ua.StatusCodes.BadConfigurationError) {
  return Object.assign(new Error(message), { status: status.value, isOurs: true });
}

function makeClient(ask, security) {
  return ua.OPCUAClient.create({
    applicationName: 'Fralto',
    applicationUri: ask.applicationUri,
    clientCertificateManager: new OPCUACertificateManager({ rootFolder: ask.pki, automaticallyAcceptUnknownCertificate: true }),
    certificateFile: ask.certificate,
    privateKeyFile: ask.key,
    endpointMustExist: false,
    connectionStrategy: { maxRetry: 0, initialDelay: 100, maxDelay: 200 },
    transportTimeout: ask.timeout,
    defaultTransactionTimeout: 15000,
    keepSessionAlive: true,
    keepAliveInterval: KEEP_ALIVE_MS,
    requestedSessionTimeout: 60000,
    ...security,
  });
}

const operations = {
  async endpoints(ask) {
    const client = makeClient(ask, {});
    try {
      await within(ask.timeout, client.connect(ask.url), 'connecting').catch(e => {
        throw e.isOurs
          ? e
          : problem(
              `nobody answers at ${ask.url}; is the server running, and is the address right?`,
              ua.StatusCodes.BadNotConnected,
            );
      });
      const all = await within(ask.timeout, client.getEndpoints({ endpointUrl: ask.url }), 'asking what is offered');
      return {
        endpoints: all
          .filter(e => e.endpointUrl?.startsWith('opc.tcp'))
          .map(e => ({
            url: e.endpointUrl,
            policy: e.securityPolicyUri?.split('#')[1] ?? 'None',
            mode: ua.MessageSecurityMode[e.securityMode],
            level: e.securityLevel,
            tokens: (e.userIdentityTokens ?? []).map(t => ua.UserTokenType[t.tokenType]),
            certificate: e.serverCertificate?.length > 0 ? e.serverCertificate.toString('base64') : null,
            application: e.server?.applicationName?.text ?? '',
            applicationUri: e.server?.applicationUri ?? '',
          })),
      };
    } finally {
      quietly(client.disconnect());
    }
  },

  async open(ask) {
    if (link !== null) await operations.close();
    const client = makeClient(ask, {
      securityPolicy: ua.SecurityPolicy[ask.policy],
      securityMode: ua.MessageSecurityMode[ask.mode],
      serverCertificate: ask.serverCertificate ? Buffer.from(ask.serverCertificate, 'base64') : undefined,
    });
    try {
      await within(ask.timeout, client.connect(ask.url), 'connecting').catch(e => {
        const distrusts = ask.mode !== 'None' && !e.isOurs && DISTRUST.includes(statusOf(e));
        throw distrusts ? problem(NOT_TRUSTED, ua.StatusCodes.BadSecurityChecksFailed) : e;
      });
      const session = await within(ask.timeout, client.createSession(loginOf(ask.login)), 'beginning a session');
      const [table, limits] = await within(
        ask.timeout,
        Promise.all([session.readNamespaceArray(), limitsOf(session)]),
        'reading namespaces',
      );
      const opened = new Link(client, session, table, limits);
      client.on('connection_lost', () => opened.lost('the connection broke'));
      client.on('close', () => opened.lost('the connection was closed'));
      session.on('session_closed', () => opened.lost('the server ended the session'));
      session.on('keepalive_failure', () => opened.lost('the server no longer answers'));
      link = opened;
      return { namespaces: table, limits };
    } catch (e) {
      quietly(client.disconnect());
      throw e;
    }
  },

  async follow(ask, id) {
    const its = await subscriptionOf(ask.interval);
    // Those of one way of sampling are asked for together, as many a call as the server takes.
    const [alike, refused] = [new Map(), []];
    for (const [handle, node, sampling, queue, deadband] of ask.items) {
      const key = `${sampling} ${queue} ${deadband}`;
      if (!alike.has(key)) alike.set(key, { sampling, queue, deadband, of: [] });
      const nodeId = link.resolve(node);
      if (nodeId === null) refused.push([handle, ua.StatusCodes.BadNodeIdUnknown.value]);
      else alike.get(key).of.push([handle, nodeId]);
    }
    let unfiltered = 0;
    for (const group of alike.values()) {
      const wrong = await monitorAll(its, group, group.of, id);
      // A node without a range has no percent of it, and many a server knows no deadband: its changes are told all the same.
      const isUnfiltered = ([, status]) => group.deadband > 0 && NO_FILTER.includes(status);
      const handles = new Set(wrong.filter(isUnfiltered).map(([handle]) => handle));
      const plainly = group.of.filter(([handle]) => handles.has(handle));
      unfiltered += plainly.length;
      refused.push(...wrong.filter(w => !isUnfiltered(w)), ...(await monitorAll(its, { ...group, deadband: 0 }, plainly, id)));
    }
    return { interval: its.publishingInterval, refused, unfiltered };
  },

  async drop(ask, id) {
    const gone = ask.handles.map(h => link.items.get(h)).filter(i => i !== undefined);
    for (const handle of ask.handles) link.items.delete(handle);
    for (const group of new Set(gone.map(i => i.group))) {
      const its = gone.filter(i => i.group === group).map(i => i.item);
      const letGo = async some => {
        await link.session.deleteMonitoredItems({
          subscriptionId: group.subscriptionId,
          monitoredItemIds: some.map(i => i.monitoredItemId),
        });
        return [];
      };
      await inCalls(link.limits, 'monitored', its, letGo, () => goesOn(id));
    }
    return {};
  },

  async read(ask) {
    const nodes = ask.nodes.map(n => link.resolve(n));
    const answers = await inCalls(
      link.limits,
      'read',
      nodes.filter(n => n !== null),
      some => link.session.read(some.map(nodeId => ({ nodeId, attributeId: ua.AttributeIds.Value }))),
    );
    let next = 0;
    const values = nodes.map(n => (n === null ? [null, ua.StatusCodes.BadNodeIdUnknown.value, null] : told(answers[next++])));
    return { values };
  },

  async write(ask) {
    const nodeId = link.resolve(ask.node);
    if (nodeId === null) throw problem('the server has no such namespace', ua.StatusCodes.BadNodeIdUnknown);
    const now = await link.session.read({ nodeId, attributeId: ua.AttributeIds.Value });
    const type = await typeOf(nodeId, now);
    const written = variantOf(type, now.value, ask.value, ask.element);
    if (written.problem) throw problem(written.problem, ua.StatusCodes.BadTypeMismatch);
    const status = await link.session.write({
      nodeId,
      attributeId: ua.AttributeIds.Value,
      indexRange: written.range === undefined ? undefined : new NumericRange(written.range),
      value: { value: written.variant },
    });
    if (!status.isGood()) throw Object.assign(new Error(status.description), { status: status.value });
    const back = told(await link.session.read({ nodeId, attributeId: ua.AttributeIds.Value }));
    return { value: back[0], status: back[1] };
  },

  async browse(ask, id) {
    // Several may look through a server at once, and each goes on where he left off.
    const walk = ask.from === undefined ? link.walks.get(ask.on) : browseBelow(link, ask.from === '' ? 'i=85' : ask.from);
    if (walk === undefined) throw problem('where it left off is no longer known; browse anew');
    link.walks.delete(ask.on);
    let [said, part, more] = [0, [], true];
    link.enough.delete(id);
    while (said < ask.most && !link.enough.has(id)) {
      const next = await walk.next();
      if (next.done) {
        more = false;
        break;
      }
      part.push(...next.value);
      said += next.value.length;
      if (part.length >= HANDLES_A_CALL) {
        say({ id, part });
        part = [];
      }
    }
    if (part.length > 0) say({ id, part });
    if (!more || link === null) return { on: null, tooDeep: walk.tooDeep };
    link.walks.set(id, walk);
    while (link.walks.size > MOST_WALKS) link.walks.delete(link.walks.keys().next().value);
    return { on: id };
  },

  async enough(ask) {
    link.enough.add(ask.browse);
    return {};
  },

  async level(ask) {
    return levelOf(link, ask.node);
  },

  async types() {
    return { types: await objectTypesOf(link) };
  },

  async structure(ask) {
    return structureOf(link, ask.node);
  },

  async close() {
    const closed = link;
    link = null;
    if (closed === null) return {};
    closed.isOver = true;
    await quietly(within(3000, closed.client.disconnect(), 'ending the session'));
    return {};
  },
};

function loginOf(login) {
  switch (login?.kind) {
    case 'password':
      return { type: ua.UserTokenType.UserName, userName: login.user, password: login.password ?? '' };
    case 'certificate':
      return {
        type: ua.UserTokenType.Certificate,
        certificateData: Buffer.from(login.certificate.replace(/-----[^-]+-----|\s/g, ''), 'base64'),
        privateKey: login.key,
      };
    default:
      return { type: ua.UserTokenType.Anonymous };
  }
}

/** How many operations the server takes in one call; what it does not say, or says to be 0, is a modest number of ours. */
async function limitsOf(session) {
  const usual = { read: 500, write: 500, browse: 200, monitored: 500 };
  const ids = ['i=11705', 'i=11707', 'i=11710', 'i=11714'];
  const values = await session.read(ids.map(nodeId => ({ nodeId, attributeId: ua.AttributeIds.Value }))).catch(() => []);
  Object.keys(usual).forEach((key, i) => {
    const said = values[i]?.statusCode?.isGood() ? Number(values[i].value?.value) : 0;
    if (said > 0) usual[key] = Math.min(usual[key], said);
  });
  return usual;
}

async function subscriptionOf(interval) {
  const known = link.subscriptions.get(interval);
  if (known !== undefined) return known;
  const its = await link.session.createSubscription2({
    requestedPublishingInterval: interval,
    requestedMaxKeepAliveCount: Math.max(1, Math.round(KEEP_ALIVE_MS / interval)),
    requestedLifetimeCount: Math.max(30, Math.round(60000 / interval)),
    maxNotificationsPerPublish: 0,
    publishingEnabled: true,
    priority: 1,
  });
  const owner = link;
  // A server that goes on answering and publishes no more is as good as gone.
  const silence = Math.max(3 * KEEP_ALIVE_MS, 4 * its.publishingInterval * Math.max(1, its.maxKeepAliveCount));
  let heard = process.uptime();
  const watch = setInterval(() => {
    if (owner.isOver) clearInterval(watch);
    else if ((process.uptime() - heard) * 1000 > silence) owner.lost('the server publishes no more');
  }, 1000);
  const alive = () => {
    heard = process.uptime();
  };
  its.on('received_notifications', alive);
  its.on('keepalive', alive);
  its.on('terminated', () => owner.lost('the server ended the subscription'));
  owner.subscriptions.set(interval, its);
  return its;
}

/** A part with nothing in it: a slow server has answered once more, and the rest is still to come. */
const goesOn = id => say({ id, part: [] });

/** Follows nodes, as many a call as the server takes; those it refuses, with why. */
const monitorAll = (subscription, group, nodes, id) =>
  inCalls(
    link.limits,
    'monitored',
    nodes,
    some => monitor(subscription, group, some),
    () => goesOn(id),
  );

async function monitor(subscription, group, some) {
  const items = some.map(([, nodeId]) => ({ nodeId, attributeId: ua.AttributeIds.Value }));
  const made = await subscription.monitorItems(
    items,
    {
      samplingInterval: group.sampling,
      queueSize: group.queue,
      discardOldest: true,
      filter:
        group.deadband > 0
          ? new ua.DataChangeFilter({
              trigger: ua.DataChangeTrigger.StatusValue,
              deadbandType: ua.DeadbandType.Percent,
              deadbandValue: group.deadband,
            })
          : null,
    },
    ua.TimestampsToReturn.Both,
  );
  made.on('changed', (item, value, index) => {
    const known = link?.items.get(some[index][0]);
    if (known?.item === item) push([some[index][0], ...told(value)]);
  });
  const refused = [];
  for (let i = 0; i < some.length; i++) {
    const item = made.monitoredItems[i];
    link.items.set(some[i][0], { item, group: subscription });
    const status = item.statusCode ?? item.result?.statusCode;
    if (status !== undefined && !status.isGood()) refused.push([some[i][0], status.value]);
  }
  return refused;
}

/** A value with its status and the time its source gives it, in ms since 1970. */
function told(value) {
  const time = (value.sourceTimestamp ?? value.serverTimestamp)?.getTime() ?? null;
  return [plain(value.value), value.statusCode?.value ?? 0, time];
}

async function typeOf(nodeId, now) {
  if (now.value && now.value.dataType !== ua.DataType.Null) return now.value.dataType;
  const declared = await link.session.getBuiltInDataType(nodeId);
  return declared;
}

/** Opening and following go one after the other; the rest goes beside them. */
const BESIDE = ['browse', 'enough', 'level', 'types', 'structure', 'write', 'read', 'endpoints'];

const words = readline.createInterface({ input: process.stdin, crlfDelay: Infinity });
let last = Promise.resolve();
words.on('line', line => {
  let ask;
  try {
    ask = JSON.parse(line);
  } catch {
    say({ error: 'what came is no JSON' });
    return;
  }
  const doing = async () => {
    try {
      if (!Object.hasOwn(operations, ask.op)) throw problem(`there is no operation ${ask.op}`);
      if (link === null && !['endpoints', 'open', 'close'].includes(ask.op))
        throw problem('not connected', ua.StatusCodes.BadNotConnected);
      say({ id: ask.id, ok: await operations[ask.op](ask, ask.id) });
    } catch (e) {
      say({
        id: ask.id,
        error: String(e?.message ?? e)
          .split('\n')[0]
          .slice(0, 500),
        status: statusOf(e),
        ours: e?.isOurs,
      });
    }
  };
  if (BESIDE.includes(ask.op)) quietly(doing());
  else last = last.then(doing);
});
words.on('close', async () => {
  await Promise.race([operations.close(), new Promise(done => setTimeout(done, 2000))]);
  process.exit(0);
});

process.on('uncaughtException', e => {
  console.error(e);
  process.exit(1);
});
process.on('unhandledRejection', e => console.error(String(e?.stack ?? e)));
