/** Part of every key: a change that changes pixels changes it, and stored pictures with it. */
export const ENGINE_VERSION = 12;
