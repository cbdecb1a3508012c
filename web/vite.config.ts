import vue from '@vitejs/plugin-vue'
import vuetify from 'vite-plugin-vuetify'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  html: { cspNonce: 'NONCE' },
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  // Nothing here, nor in the component library, is written with Vue's options, so what reads them is left out.
  define: { __VUE_OPTIONS_API__: false },
  build: { target: 'es2022', chunkSizeWarningLimit: 400, assetsInlineLimit: 0 },
  server: { fs: { allow: ['..'] }, proxy: { '/api': 'http://127.0.0.1:8787' } },
})
