import { createStore } from 'zustand';

/**
 * How often the server was reached again after it had been away. What failed meanwhile is worth another try
 * then.
 */
export const connection = createStore<{ readonly reconnects: number }>(() => ({ reconnects: 0 }));
