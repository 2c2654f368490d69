import type { PackageRequest } from '@muted-pond/core/api';
import { callBytes } from '../../api/client.js';
import { saveBlob } from '../../ui/save-text.js';

/** Files and texts as one ZIP, handed to the browser to be saved. */
export async function savePackage(request: PackageRequest, name: string): Promise<void> {
  saveBlob(new Blob([await callBytes('POST', 'packages', request)], { type: 'application/zip' }), name);
}
