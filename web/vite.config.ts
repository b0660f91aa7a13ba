import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

export default defineConfig({
  root: 'web',
  plugins: [react()],
  worker: { format: 'es' },
  build: { outDir: '../dist/web', emptyOutDir: true, target: 'es2022', chunkSizeWarningLimit: 900 },
  server: {
    host: '127.0.0.1',
    proxy: Object.fromEntries(
      ['/api', '/pdf'].map(path => [
        path,
        { target: `http://127.0.0.1:${process.env.PORT ?? 4600}`, changeOrigin: false },
      ]),
    ),
  },
})
