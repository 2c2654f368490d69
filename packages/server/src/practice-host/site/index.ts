export { createHost } from './create-host.js';
export { HostPages } from './host-pages.service.js';
export { type HostSettings, hostFolders } from './host-settings.js';
export { HOST_MIGRATION_NAMES } from './migrations.js';
export type { HostPage } from './page.entity.js';
export { embedHtml, linksOf } from './site-html.js';
