// A Modbus device made with an independent implementation (npm modbus-serial), whose registers a test sets.
import { once } from 'node:events';
import modbus from 'modbus-serial';
import { freePort } from './fralto.mjs';

export async function startDevice(unitID = 1) {
  const port = await freePort();
  const holding = new Uint16Array(200);
  const input = new Uint16Array(200);
  const coils = new Uint8Array(64);
  const server = new modbus.ServerTCP(
    {
      getHoldingRegister: address => holding[address],
      getInputRegister: address => input[address],
      getCoil: address => coils[address] === 1,
      getDiscreteInput: address => coils[address] === 1,
      setRegister: (address, value) => {
        holding[address] = value;
      },
      setCoil: (address, value) => {
        coils[address] = value ? 1 : 0;
      },
    },
    { host: '127.0.0.1', port, unitID },
  );
  await once(server, 'initialized');
  server.on('socketError', () => {});
  return {
    port,
    holding,
    input,
    coils,
    float(address, value, lowFirst) {
      const bytes = Buffer.alloc(4);
      bytes.writeFloatBE(value);
      const words = [bytes.readUInt16BE(0), bytes.readUInt16BE(2)];
      [holding[address], holding[address + 1]] = lowFirst ? words.reverse() : words;
    },
    stop: () => new Promise(resolve => server.close(resolve)),
  };
}
