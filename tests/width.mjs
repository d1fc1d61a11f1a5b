// No line of code is wider than .editorconfig says.
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

const most = Number(/max_line_length = (\d+)/.exec(readFileSync('.editorconfig', 'utf8'))[1]);
const files = execFileSync('git', ['ls-files', '--', '*.cs', '*.cshtml', '*.mjs', '*.css', '*.sql'], { encoding: 'utf8' })
  .split('\n')
  .filter(Boolean);
let wide = 0;
for (const file of files.filter(f => !f.includes('/lib/'))) {
  readFileSync(file, 'utf8')
    .split('\n')
    .forEach((line, i) => {
      if ([...line].length <= most) return;
      wide++;
      console.log(`${file}:${i + 1} has ${[...line].length} characters; ${most} is the most`);
    });
}
process.exit(wide > 0 ? 1 : 0);
