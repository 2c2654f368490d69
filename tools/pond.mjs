#!/usr/bin/env node
// The commands of package.json on a machine that has nothing but Node and npm: installs what is missing,
// builds what is out of date, then runs. Plain JavaScript, since it runs before anything is installed.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const ROOT = dirname(dirname(fileURLToPath(import.meta.url)));
const SERVER = join(ROOT, 'packages/server/dist');
const [command, ...rest] = process.argv.slice(2);
/** What is said on the way; the command line's own output stays clean. */
const say = (text) => process.stderr.write(`· ${text}\n`);

/** Each with what it does, in a line of the help. */
const commands = {
  demo: {
    about: 'serves the interface with made-up footage',
    run: () => serve({ MUTED_POND_DATA: join(ROOT, '.demo-data'), MUTED_POND_DEMO: join(ROOT, 'demo') }),
  },
  start: {
    about: 'serves it with your own data',
    // Its data lie where the server keeps them by default.
    run: () => serve({ MUTED_POND_DEMO: '' }),
  },
  render: {
    about: 'makes loops without the server; -- --help lists its flags',
    async run() {
      await prepare({ programs: ['ffmpeg'], build: ['core', 'server'] });
      // Paths on the command line are those of whoever typed them.
      const cwd = process.env.INIT_CWD ?? process.cwd();
      await run(process.execPath, [join(SERVER, 'cli/main.js'), ...rest], { cwd });
    },
  },
  backup: {
    about: '-- FOLDER: copies everything, also while the server runs',
    run: () => withData('backup'),
  },
  restore: { about: '-- FOLDER: checks a backup and brings it back', run: () => withData('restore') },
  'check-data': { about: 'holds every kept file against its name', run: () => withData('check-data') },
  test: { about: 'all tests, as CI runs them', run: test },
  bench: {
    about: 'prints the figures we hold ourselves to',
    async run() {
      await prepare({ programs: ['ffmpeg', 'chromium'], build: ['core', 'server', 'web'] });
      await run(tool('tsx'), ['--conditions=@muted-pond/source', 'bench/run.ts', ...rest]);
    },
  },
  hold: {
    about: 'the server under fire',
    async run() {
      await prepare({ programs: ['ffmpeg'], build: ['core', 'server'] });
      await run(tool('tsx'), ['--conditions=@muted-pond/source', 'tools/hold/run.ts', ...rest]);
    },
  },
};

/** Works on the data folder of `npm start`, or the one that is named. */
async function withData(what) {
  await prepare({ programs: [], build: ['core', 'server'] });
  const cwd = process.env.INIT_CWD ?? process.cwd();
  await run(process.execPath, [join(SERVER, 'data-folder/cli.js'), what, ...rest], { cwd });
}

async function serve(settings) {
  await prepare({ programs: ['ffmpeg'], build: ['core', 'server', 'web'] });
  const env = { ...process.env, ...settings, MUTED_POND_WEB: join(ROOT, 'packages/web/dist') };
  await run(process.execPath, ['--enable-source-maps', join(SERVER, 'main.js')], { env });
}

async function test() {
  await prepare({ programs: ['ffmpeg', 'chromium', 'webpinfo'], build: [] });
  const steps = [
    ['style', 'npm', ['run', '--silent', 'lint']],
    ['types', 'npm', ['run', '--silent', 'types']],
    ['arrows between folders', 'npm', ['run', '--silent', 'arrows']],
    ['core, server and web', 'npm', ['run', '--silent', 'unit']],
    ['licences of what it runs with', process.execPath, ['tools/licences.mjs']],
    ['build', 'npm', ['run', '--silent', 'build']],
    ['held under fire', 'npm', ['run', '--silent', 'hold', '--', '--short']],
    ['the journey in the browser', 'npm', ['run', '--silent', 'e2e']],
  ];
  for (const [index, [name, program, args]] of steps.entries()) {
    say(`${index + 1}/${steps.length} ${name}`);
    await run(program, args);
  }
  process.stdout.write(`checks: ${steps.length} passed, 0 failed\n`);
}

async function prepare({ programs, build }) {
  await installPackages();
  for (const program of programs) installProgram(program);
  for (const part of build) await buildPart(part);
}

/** Installs when the lock file is newer than what was installed last. */
async function installPackages() {
  const stamp = join(ROOT, 'node_modules/.muted-pond-installed');
  const lock = readFileSync(join(ROOT, 'package-lock.json'), 'utf8');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  say(
    'installing packages (a few minutes the first time: SQLite is compiled where no ready build is to be had)',
  );
  await run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    env: { ...process.env, JOBS: '2', NODE_ENV: 'development' },
  });
  writeFileSync(stamp, lock);
}

/** Debian’s names of packages whose programs are called otherwise. */
const PACKAGES = { webpinfo: 'webp' };

function installProgram(program) {
  if (find(program)) return;
  const name = PACKAGES[program] ?? program;
  const asRoot = process.getuid?.() === 0 && find('apt-get');
  if (asRoot) {
    say(`installing ${program} from Debian’s packages`);
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    spawnSync('apt-get', ['update', '-qq'], { stdio: ['ignore', 'ignore', 'inherit'], env });
    spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', name], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env,
    });
    if (find(program)) return;
  }
  fail(`${program} is missing. Install it first (Debian: apt-get install ${name}), then run this again.`);
}

function find(program) {
  return (process.env.PATH ?? '').split(':').some((folder) => existsSync(join(folder, program)));
}

/** Builds when a source is newer than the last build. */
async function buildPart(part) {
  const folder = join(ROOT, 'packages', part);
  const stamp = join(folder, 'dist/.built');
  const sources = [join(folder, 'src'), join(folder, 'package.json'), join(ROOT, 'packages/core/src')];
  if (existsSync(stamp) && statSync(stamp).mtimeMs > Math.max(...sources.map(newest))) return;
  say(`building ${part}`);
  rmSync(join(folder, 'dist'), { recursive: true, force: true });
  await run('npm', ['run', '--silent', `build:${part}`]);
  writeFileSync(stamp, '');
}

function newest(path) {
  const stats = statSync(path);
  if (!stats.isDirectory()) return stats.mtimeMs;
  return Math.max(stats.mtimeMs, ...readdirSync(path).map((name) => newest(join(path, name))));
}

function tool(name) {
  return join(ROOT, 'node_modules/.bin', name);
}

/** Runs to the end in the foreground; passes signals on; ends this process when it fails. */
function run(program, args, options = {}) {
  return new Promise((resolve) => {
    const child = spawn(program, args, { cwd: ROOT, stdio: 'inherit', ...options });
    const pass = (signal) => child.kill(signal);
    process.on('SIGINT', pass);
    process.on('SIGTERM', pass);
    child.on('error', (error) => fail(`${program} could not be started: ${error.message}`));
    child.on('close', (code, signal) => {
      process.off('SIGINT', pass);
      process.off('SIGTERM', pass);
      if (code === 0) resolve();
      else process.exit(signal ? 0 : (code ?? 1));
    });
  });
}

function fail(message) {
  process.stderr.write(`${message}\n`);
  process.exit(1);
}

if (command === '--help' || command === 'help') {
  for (const [name, { about }] of Object.entries(commands))
    process.stdout.write(`  npm run ${name.padEnd(12)} ${about}\n`);
  process.exit(0);
}
if (!commands[command]) fail(`Use one of: ${Object.keys(commands).join(', ')}. --help says what each does.`);
await commands[command].run();
