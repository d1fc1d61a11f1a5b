// An independent Modbus implementation (npm modbus-serial) against our stand-in; it knows nothing of our frames.
import { test, expect } from './test.mjs';
import modbus from 'modbus-serial';
import { startStandIns } from './fralto.mjs';

let standIns;
let client;

test.beforeAll(async () => {
  standIns = await startStandIns();
  client = new modbus();
  await client.connectTCP('127.0.0.1', { port: standIns.port });
  client.setID(1);
  client.setTimeout(2000);
});
test.afterAll(async () => {
  client.close(() => {});
  await standIns.stop();
});

test('reads the kilns as any Modbus client does', async () => {
  const { buffer, data } = await client.readInputRegisters(0, 14);
  const airOn = Buffer.from([buffer[2], buffer[3], buffer[0], buffer[1]]).readFloatBE();
  expect(airOn).toBeGreaterThan(15);
  expect(airOn).toBeLessThan(100);
  expect(data[11] & 1).toBe(1);
  expect(data[11] >> 4).toBeLessThanOrEqual(7);
  const contacts = await client.readDiscreteInputs(0, 4);
  expect(contacts.data).toHaveLength(8);
  expect((await client.readInputRegisters(0, 80)).data).toHaveLength(80);
});

test('writes coils and registers and reads them back', async () => {
  await client.writeRegister(2, 4711);
  await client.writeRegisters(3, [1, 2, 65535]);
  expect((await client.readHoldingRegisters(2, 4)).data).toEqual([4711, 1, 2, 65535]);
  await client.writeCoil(1, true);
  await client.writeCoils(2, [true, false, true]);
  expect((await client.readCoils(1, 4)).data.slice(0, 4)).toEqual([true, true, false, true]);
});

test('meets the exceptions of the protocol', async () => {
  await expect(client.readInputRegisters(171, 2)).rejects.toMatchObject({ modbusCode: 2 });
  client.setID(9);
  await expect(client.readInputRegisters(0, 1)).rejects.toMatchObject({ modbusCode: 11 });
  client.setID(1);
});

test('loses the controller when it goes, and finds it again', async () => {
  standIns.fault('kiln-plc-gone', true);
  await expect
    .poll(() =>
      client.readInputRegisters(0, 1).then(
        () => 'there',
        () => 'gone',
      ),
    )
    .toBe('gone');
  standIns.fault('kiln-plc-gone', false);
  const again = new modbus();
  await expect
    .poll(() =>
      again.connectTCP('127.0.0.1', { port: standIns.port }).then(
        () => 'there',
        () => 'gone',
      ),
    )
    .toBe('there');
  again.setID(1);
  standIns.fault('kiln-1-sensor-broken', true);
  await expect
    .poll(async () => {
      const { buffer } = await again.readInputRegisters(0, 2);
      return Number.isNaN(Buffer.from([buffer[2], buffer[3], buffer[0], buffer[1]]).readFloatBE());
    })
    .toBe(true);
  again.close(() => {});
});
