// Starts Fralto and its stand-ins as a user does, each on ports of its own.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const program = fileURLToPath(new URL('../../src/Fralto.Web/bin/Release/net10.0/Fralto.Web.dll', import.meta.url));

// Each worker takes its ports from a range of its own, below those the system gives out by itself, twenty at a time: the stand-ins need
// a few in a row.
const range = 12_000 + 8_000 * Number(process.env.TEST_PARALLEL_INDEX ?? 0);
let taken = process.pid % 300;

export async function freePort() {
  for (;;) {
    const port = range + 20 * (taken++ % 400);
    const server = createServer().listen(port, '127.0.0.1');
    const isFree = await Promise.race([
      once(server, 'listening').then(() => true),
      once(server, 'error').then(() => false),
    ]).catch(() => false);
    if (!isFree) continue;
    server.close();
    await once(server, 'close');
    return port;
  }
}

/** The OPC UA server and the client for it cost seconds of a machine at each start: only tests about them have them. */
const without = ['--without', 'utility-ua'];

export function emptyDirectory() {
  return mkdtempSync(join(tmpdir(), 'fralto-e2e-'));
}

function run(args) {
  const child = spawn('dotnet', [program, ...args], { stdio: ['pipe', 'pipe', 'pipe'] });
  child.log = '';
  child.stdout.on('data', data => {
    child.log += data;
  });
  child.stderr.on('data', data => {
    child.log += data;
  });
  // A process that ends by itself says in the test's output what it said last.
  child.on('exit', code => {
    if (!child.isTold) console.error(`Fralto ended with ${code}: ${child.log.slice(-4000)}`);
  });
  return child;
}

// As long as a process that begins lives, it is waited for: on a machine that is taken away, a start of ten seconds can take a minute.
const longestStart = 120_000;

async function until(child, holds, what) {
  for (const began = Date.now(); Date.now() - began < longestStart; ) {
    if (child.exitCode !== null) throw new Error(`${what} ended: ${child.log}`);
    if (await holds()) return;
    await new Promise(resolve => setTimeout(resolve, 100));
  }
  child.isTold = true;
  child.kill('SIGKILL');
  throw new Error(`${what} did not start: ${child.log}`);
}

async function stop(child, signal = 'SIGTERM') {
  if (child.exitCode !== null) return child.exitCode;
  child.isTold = true;
  child.kill(signal);
  const [code] = await once(child, 'exit');
  return code;
}

/** What the interface answers; a list whole, however many pages it comes in. */
export async function api(base, path) {
  const items = [];
  for (let cursor = ''; ;) {
    const answer = await (
      await fetch(`${base}/api/v1${path}${cursor && `${path.includes('?') ? '&' : '?'}cursor=${encodeURIComponent(cursor)}`}`)
    ).json();
    if (!Array.isArray(answer.items)) return answer;
    items.push(...answer.items);
    if (!answer.next) return items;
    cursor = answer.next;
  }
}

/** The web application, with "serve" on an empty directory or with "demo". */
/** The demo's plant is released; unless a test is about that, whatever it edits runs at once. */
export async function startFralto(
  command = 'serve',
  directory = emptyDirectory(),
  isReleased = false,
  pastDays = 0,
  withUtilityUa = false,
) {
  const port = await freePort();
  const standInPort = await freePort();
  const args = [command, '--data', directory, '--port', `${port}`];
  if (command === 'demo')
    args.push('--stand-in-ports', `${standInPort}`, '--past-days', `${pastDays}`, ...(withUtilityUa ? [] : without));
  const child = run(args);
  const base = `http://127.0.0.1:${port}`;
  await until(child, async () => (await fetch(`${base}/healthz`).catch(() => null))?.ok, 'Fralto');
  if (command === 'demo' && !isReleased)
    await fetch(`${base}/api/v1/releases/automatic`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: '{"automatic":true}',
    });
  return {
    base,
    directory,
    standInPort,
    log: () => child.log,
    api: path => api(base, path),
    stop: signal => stop(child, signal),
    forget: async () => {
      await stop(child);
      rmSync(directory, { recursive: true, force: true });
    },
  };
}

/** The stand-ins alone. */
export async function startStandIns(withUtilityUa = false) {
  const port = await freePort();
  const child = run(['stand-ins', '--stand-in-ports', `${port}`, ...(withUtilityUa ? [] : without)]);
  await until(child, () => child.log.includes('listens'), 'the stand-ins');
  return { port, fault: (key, on) => child.stdin.write(`${key} ${on ? 'on' : 'off'}\n`), stop: () => stop(child) };
}
