import { needBuild, needPackages, run } from './needs.mjs';

// Installs and builds what is missing, then serves the application; the address is printed.
needPackages();
needBuild();
const port = process.env.PORT ?? '4173';
process.exit(
  run('npx', ['vite', 'preview', '--port', port, '--strictPort'], {
    cwd: new URL('../apps/web', import.meta.url).pathname,
  }),
);
