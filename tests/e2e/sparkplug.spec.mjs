// Sparkplug B payloads between us and an independent library (npm sparkplug-payload), over a broker, through programs that are not ours.
import { execFile, spawn } from 'node:child_process';
import { test, expect } from './test.mjs';
import sparkplug from 'sparkplug-payload';
import { startFralto, startStandIns } from './fralto.mjs';

const codec = sparkplug.get('spBv1.0');
let standIns;
let fralto;

test.beforeAll(async () => {
  standIns = await startStandIns();
  fralto = await startFralto();
});
test.afterAll(async () => {
  await fralto?.forget();
  await standIns?.stop();
});

const publish = (topic, payload) =>
  new Promise((resolve, reject) => {
    const child = spawn('mosquitto_pub', [
      '-h',
      '127.0.0.1',
      '-p',
      `${standIns.port + 2}`,
      '-i',
      'bench-publisher',
      '-t',
      topic,
      '-q',
      '1',
      '-s',
    ]);
    child.on('exit', code => (code === 0 ? resolve() : reject(new Error(`mosquitto_pub ended with ${code}`))));
    child.stdin.end(Buffer.from(codec.encodePayload(payload)));
  });

test('the other library reads what the edge node of the maltings says', async () => {
  const lines = await new Promise((resolve, reject) =>
    execFile(
      'mosquitto_sub',
      [
        '-h',
        '127.0.0.1',
        '-p',
        `${standIns.port + 2}`,
        '-i',
        'bench-listener',
        '-t',
        'spBv1.0/Corvane/DDATA/box-edge/#',
        '-C',
        '6',
        '-F',
        '%t %x',
      ],
      { timeout: 15_000 },
      (error, stdout) => (error ? reject(error) : resolve(stdout.trim().split('\n'))),
    ),
  );
  for (const line of lines) {
    const payload = codec.decodePayload(Buffer.from(line.split(' ')[1], 'hex'));
    expect(Number(payload.seq)).toBeLessThan(256);
    expect(payload.metrics.length).toBeGreaterThan(0);
    const carriage = payload.metrics.find(m => m.name === 'carriage');
    expect(carriage.type).toBe('Template');
    expect(carriage.value.metrics.map(m => m.name)).toEqual(['position', 'moving']);
    for (const metric of payload.metrics.filter(m => m.alias !== undefined)) expect(Number(metric.alias) % 100).toBeLessThan(13);
  }
});

test('Fralto reads what the other library writes: births, data by alias, and a death', async ({ page }) => {
  await page.goto(`${fralto.base}/controllers?open=controller&protocol=Sparkplug`);
  for (const [label, value] of Object.entries({
    Name: 'lab',
    'Host name or IP address': '127.0.0.1',
    'TCP port': standIns.port + 2,
    Group: 'Lab',
  }))
    await page.getByLabel(label, { exact: true }).fill(`${value}`);
  await page.getByRole('button', { name: 'Add controller', exact: true }).click();
  await expect(page.locator('#status')).toContainText('up');
  const timestamp = Date.now();
  const birth = () =>
    publish('spBv1.0/Lab/NBIRTH/bench', {
      timestamp,
      seq: 0,
      metrics: [
        { name: 'bdSeq', type: 'Int64', value: 0 },
        { name: 'Node Control/Rebirth', type: 'Boolean', value: false },
        {
          name: 'oven/temperature',
          alias: 7,
          type: 'Double',
          value: 180.5,
          properties: {
            engUnit: { type: 'String', value: 'degC' },
            engLow: { type: 'Double', value: 0 },
            engHigh: { type: 'Double', value: 300 },
          },
        },
        { name: 'count', alias: 8, type: 'UInt32', value: 4294967295 },
        { name: 'delta', alias: 9, type: 'Int16', value: -3 },
        { name: 'lot', alias: 10, type: 'String', value: 'A 17' },
      ],
    });
  await birth();
  await page.getByRole('link', { name: 'Browse', exact: true }).click();
  const found = page.getByRole('row', { name: /oven\/temperature float64 180\.5 degC 0 … 300/ });
  await expect(found).toBeVisible();
  await found.focus();
  await page.keyboard.press('Control+a');
  await page.getByRole('button', { name: 'Take them as tags' }).click();
  const value = name => page.getByRole('row', { name: new RegExp(`^Lab/bench/${name} `) }).locator('.value');
  await expect(value('oven/temperature')).toHaveText('180.5');
  await expect(value('count')).toHaveText('4294967295');
  await expect(value('delta')).toHaveText('-3');
  await expect(value('lot')).toHaveText('A 17');
  await publish('spBv1.0/Lab/NDATA/bench', {
    timestamp: Date.now(),
    seq: 1,
    metrics: [
      { alias: 7, type: 'Double', value: 175.25 },
      { alias: 9, type: 'Int16', value: -4 },
    ],
  });
  await expect(value('oven/temperature')).toHaveText('175.25');
  await expect(value('delta')).toHaveText('-4');
  await publish('spBv1.0/Lab/NDEATH/bench', { timestamp: Date.now(), metrics: [{ name: 'bdSeq', type: 'Int64', value: 0 }] });
  await expect(page.getByRole('row', { name: /^Lab\/bench\/count / })).toContainText(/death received at .* UTC from Lab\/bench/);
});
