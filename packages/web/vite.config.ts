import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

// Threads share the samples of a reference, which browsers allow to isolated pages only.
const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
};

export default defineConfig({
  plugins: [react(), tailwindcss()],
  worker: { format: 'es' },
  build: { target: 'es2023', chunkSizeWarningLimit: 1500 },
  server: {
    headers: isolation,
    // The server compares Host and Origin, so the Host has to stay that of the page.
    proxy: { '/api': { target: process.env.IMPRINT_SERVER ?? 'http://localhost:4180', changeOrigin: false } },
  },
});
