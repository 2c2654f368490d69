import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  resolve: { conditions: ['@muted-pond/source', ...defaultClientConditions] },
  worker: { format: 'es' },
  build: { chunkSizeWarningLimit: 1200 },
  server: { proxy: { '/api': 'http://localhost:4173' } },
});
