/// <reference types="vite-plugin-pwa/client" />

/** The version of the front end, by package.json: answers that another one kept are not used. */
declare const __APP_VERSION__: string;
