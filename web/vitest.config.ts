import { defineConfig, mergeConfig } from 'vitest/config'
import app from './vite.config'

export default mergeConfig(app, defineConfig({ test: { environment: 'jsdom', include: ['src/**/*.spec.ts'] } }))
