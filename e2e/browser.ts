/** Debian's Chromium, drawing in software. */
export const CHROMIUM = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--use-angle=swiftshader',
    '--enable-unsafe-swiftshader',
    // The page around the stage is drawn quicker without asking SwiftShader for it too.
    '--disable-gpu-rasterization',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};

export const SIZE = { width: 1280, height: 800 };
