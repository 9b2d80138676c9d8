// The package's own door, as its documentation has it; the file that ships is the package's.
export function openDB(name: string, version?: number, callbacks?: Record<string, unknown>): Promise<any>;
export function deleteDB(name: string, callbacks?: Record<string, unknown>): Promise<void>;
