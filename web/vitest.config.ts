import { defineConfig, mergeConfig } from 'vitest/config'
import app from './vite.config'

// A page of its own costs a test file two seconds: only those that draw or store something ask for one, in their first line.
export default mergeConfig(app, defineConfig({ test: { environment: 'node', maxWorkers: 2, include: ['src/**/*.spec.ts'] } }))
