import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const isolation = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' };
export default defineConfig({
  plugins: [react()],
  worker: { format: 'es' },
  build: { outDir: '../../dist/web', emptyOutDir: true, target: 'es2022', chunkSizeWarningLimit: 2000 },
  server: {
    host: '127.0.0.1',
    headers: isolation,
    proxy: {
      '/api': {
        target: `http://127.0.0.1:${process.env.API_PORT ?? 4601}`,
        headers: { origin: `http://127.0.0.1:${process.env.API_PORT ?? 4601}` },
        changeOrigin: true,
      },
    },
  },
});
