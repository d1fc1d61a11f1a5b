// Makes a program in Node.js and all it needs into one file: node bundle.mjs SOURCE TARGET, from the directory of its package.json.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import process from 'node:process';

const { build } = createRequire(join(process.cwd(), 'package.json'))('esbuild');
const [source, target] = process.argv.slice(2);

/** The OPC UA library tries at each start whether Node.js still has a padding OPC UA calls obsolete, with a key of 4096 bits that takes
 *  seconds of a processor to make. Fralto does not speak what that padding is for (Basic128Rsa15). */
const withoutSelfTest = {
  name: 'without self test',
  setup: ({ onLoad }) =>
    onLoad({ filter: /node-opcua-secure-channel.dist.source.verify_pcks1\.js$/ }, () => ({
      contents: 'exports.testRSAPKCS1V15_EncryptDecrypt = async () => {};',
    })),
};

await build({
  entryPoints: [source],
  outfile: target,
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'cjs',
  minify: true,
  keepNames: true,
  legalComments: 'none',
  logLevel: 'error',
  plugins: [withoutSelfTest],
});
