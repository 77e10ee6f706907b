import { defineConfig } from '@playwright/test';
import base from './playwright.config.ts';

// Renews docs/screenshots and the demo's thumbnail; not part of the tests.
export default defineConfig({ ...base, testMatch: 'screenshots.ts', reporter: 'list', retries: 0 });
