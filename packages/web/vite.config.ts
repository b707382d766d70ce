import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue()],
  resolve: { conditions: ['voskel-source', 'module', 'browser', 'development|production'], dedupe: ['vue'] },
  worker: { format: 'es' },
  build: {
    // The page's policy lets fonts come from the server alone.
    assetsInlineLimit: (file) => (/\.woff2?$/.test(file) ? false : undefined),
    target: 'es2023',
    chunkSizeWarningLimit: 900,
  },
  server: {
    port: 4311,
    strictPort: true,
    proxy: { '/api': { target: process.env.VOSKEL_API ?? 'http://127.0.0.1:4310', changeOrigin: true } },
  },
})
