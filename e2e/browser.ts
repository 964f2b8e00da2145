import { execFileSync } from 'node:child_process';

/** How Debian's Chromium is started: WebGL 2 in software, nothing over the network. */
export const launchOptions = {
  executablePath: execFileSync('which', ['chromium'], { encoding: 'utf8' }).trim(),
  args: [
    '--no-sandbox',
    '--use-gl=angle',
    '--use-angle=swiftshader',
    '--enable-unsafe-swiftshader',
    '--disable-gpu-rasterization',
    '--disable-accelerated-2d-canvas',
    '--disable-background-networking',
  ],
};
