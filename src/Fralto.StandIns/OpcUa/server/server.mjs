// The stand-in utility-ua: a real OPC UA server with compressors, water and the heat loop of the maltings. The simulation is Fralto's; what
// it says comes in by standard input, one JSON object a line, and what clients write goes out by standard output. It ends when its input
// ends.
//
//   {"values":{"CMP1.Pressure":7.1,...}}           what the simulation says now
//   {"fault":"session"}                            every session is dropped
//   {"fault":"certificate"}                        starts anew with another certificate
//   {"fault":"gone","on":true}                     listens no more
//   {"fault":"slow","on":true}                     answers after a while
//   {"fault":"bad","on":true}                      one node is Bad
//   {"fault":"namespaces","on":true}               starts anew with its namespaces in another order
//
// Out: {"ready":port,"certificate":"..."} whenever it listens, {"written":{"CMP1.Setpoint":7.2}}.
import fs from 'node:fs';
import path from 'node:path';
import process from 'node:process';
import readline from 'node:readline';
import { OPCUACertificateManager } from 'node-opcua-certificate-manager';
import { SecurityPolicy } from 'node-opcua-secure-channel';
import { OPCUAServer } from 'node-opcua-server';
import { addOddities, truth } from './odd.mjs';
import { build, Own } from './plant.mjs';

for (const word of ['log', 'info', 'debug', 'warn']) globalThis.console[word] = globalThis.console.error;

const [port, directory] = [Number(process.argv[2]), process.argv[3]];
// {"many":n} further variables, {"odd":true} what servers seldom are.
const { many = 0, odd = false } = JSON.parse(process.argv[4] ?? '{}');
const OLD_AND_NEW = [
  SecurityPolicy.None,
  SecurityPolicy.Basic256,
  SecurityPolicy.Basic256Sha256,
  SecurityPolicy.Aes128_Sha256_RsaOaep,
  SecurityPolicy.Aes256_Sha256_RsaPss,
];
const standard = path.join(__dirname, 'ua-standard.xml');
const say = line => process.stdout.write(`${JSON.stringify(line)}\n`);

let [server, plant, listens] = [null, null, port];
let [isReordered, round, slow] = [false, 0, null];
const newest = {};

async function start() {
  const certificates = new OPCUACertificateManager({
    rootFolder: path.join(directory, `pki${round || ''}`),
    // One that is odd takes only applications in pki/trusted/certs.
    automaticallyAcceptUnknownCertificate: !odd,
  });
  await certificates.initialize();
  const certificateFile = path.join(directory, `own${round || ''}.pem`);
  if (!fs.existsSync(certificateFile))
    await certificates.createSelfSignedCertificate({
      applicationUri: 'urn:utility-ua',
      subject: 'CN=utility-ua',
      dns: ['localhost'],
      ip: ['127.0.0.1'],
      startDate: new Date(Date.now() - 86_400_000),
      validity: 3650,
      outputFile: certificateFile,
    });
  // Users by certificate: those in users/trusted/certs, and nobody else.
  const users = new OPCUACertificateManager({
    rootFolder: path.join(directory, 'users'),
    automaticallyAcceptUnknownCertificate: false,
  });
  await users.initialize();
  server = new OPCUAServer({
    port: listens,
    hostname: '127.0.0.1',
    serverCertificateManager: certificates,
    userCertificateManager: users,
    certificateFile,
    privateKeyFile: certificates.privateKey,
    nodeset_filename: [standard],
    serverInfo: { applicationUri: 'urn:utility-ua', productUri: 'urn:utility-ua', applicationName: { text: 'utility-ua' } },
    buildInfo: { productName: 'utility-ua', buildNumber: '1', manufacturerName: 'the maltings' },
    serverCapabilities: {
      maxSessions: 50,
      operationLimits: odd
        ? truth
        : { maxNodesPerRead: 1000, maxNodesPerBrowse: 500, maxMonitoredItemsPerCall: 500, maxNodesPerWrite: 500 },
    },
    ...(odd ? { securityPolicies: OLD_AND_NEW } : {}),
    allowAnonymous: true,
    userManager: { isValidUser: (user, password) => user === 'operator' && password === 'malt' },
    disableDiscovery: true,
  });
  await server.initialize();
  plant = build(server.engine.addressSpace, { isReordered, many, written: (name, value) => say({ written: { [name]: value } }) });
  if (odd) addOddities(server.engine.addressSpace, server.engine.addressSpace.getNamespace(Own));
  plant.take(newest);
  await server.start();
  listens = server.endpoints[0].port;
  say({ ready: listens, certificate: server.getCertificate().toString('base64'), namespace: Own });
}

const stop = () => (server === null ? Promise.resolve() : server.shutdown(0).then(() => (server = plant = null)));

const faults = {
  async session() {
    for (const session of Object.values(server?.engine?._sessions ?? {}))
      server.engine.closeSession(session.authenticationToken, true, 'Terminated');
  },
  async certificate() {
    round++;
    fs.rmSync(path.join(directory, `pki${round}`), { recursive: true, force: true });
    fs.rmSync(path.join(directory, `own${round}.pem`), { force: true });
    await stop();
    await start();
  },
  async gone(on) {
    if (on) await stop();
    else if (server === null) await start();
  },
  // Nothing is answered while the only thread sleeps.
  async slow(on) {
    clearInterval(slow);
    slow = on ? setInterval(() => Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 2500), 3000) : null;
  },
  async bad(on) {
    plant?.bad(on);
  },
  async namespaces(on) {
    isReordered = on;
    await stop();
    await start();
  },
};

let last = start();
readline
  .createInterface({ input: process.stdin, crlfDelay: Infinity })
  .on('line', line => {
    const said = JSON.parse(line);
    if (said.values) {
      Object.assign(newest, said.values);
      plant?.take(said.values);
    } else if (Object.hasOwn(faults, said.fault)) {
      last = last
        .then(() => faults[said.fault](said.on))
        .then(
          () => say({ done: said.fault, on: said.on }),
          e => say({ failed: said.fault, why: String(e) }),
        );
    }
  })
  .on('close', () => {
    setTimeout(() => process.exit(0), 1500).unref();
    void stop().finally(() => process.exit(0));
  });
last.catch(e => {
  console.error(String(e?.message ?? e));
  process.exit(1);
});
