import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { BootstrapVueNextResolver } from 'bootstrap-vue-next/resolvers'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [
    vue(),
    // Only the standard parts come by name, listed in src/components.d.ts; our own are imported where they are used.
    Components({ resolvers: [BootstrapVueNextResolver()], dirs: [], dts: false }),
  ],
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  css: {
    preprocessorOptions: {
      scss: { quietDeps: true, silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'] },
    },
  },
  build: { target: 'es2022', manifest: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 400 },
  server: { proxy: { '/api': 'http://127.0.0.1:7420' } },
})
