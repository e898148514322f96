/** Codes that say that the line to the database broke, or that it is not there. */
const LINE_CODES = new Set([
  'PROTOCOL_CONNECTION_LOST',
  'PROTOCOL_SEQUENCE_TIMEOUT',
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ER_SERVER_SHUTDOWN',
  'ER_CON_COUNT_ERROR',
  'ER_CONNECTION_KILLED',
  'ER_QUERY_INTERRUPTED',
  'POOL_CLOSED',
]);
/** Codes that say that it cannot write: full, or read-only. */
const FULL_CODES = new Set([
  'ER_RECORD_FILE_FULL',
  'ER_DISK_FULL',
  'ER_OPEN_AS_READONLY',
  'ER_CANT_CREATE_TABLE',
  'ER_ERROR_ON_WRITE',
  'ER_TEMP_FILE_WRITE_FAILURE',
]);

interface DriverError {
  code?: string;
  errno?: number;
  syscall?: string;
  message?: string;
  sqlMessage?: string;
  driverError?: DriverError;
}
const chainOf = (error: unknown): DriverError[] => {
  const e = error as DriverError | null | undefined;
  return e ? (e.driverError ? [e, e.driverError] : [e]) : [];
};

/** True where the line to the database broke, so that nobody knows whether the work was done. */
export const isConnectionTrouble = (error: unknown): boolean =>
  chainOf(error).some(
    (e) =>
      LINE_CODES.has(e.code ?? '') ||
      (e.code === 'ENOENT' && e.syscall === 'connect') ||
      /Can't add new command when connection is in closed state|Connection lost|Pool is closed/.test(e.message ?? ''),
  );

/** True where the database could not write for want of room. */
export const isDatabaseFull = (error: unknown): boolean =>
  chainOf(error).some(
    (e) =>
      FULL_CODES.has(e.code ?? '') ||
      /\b(Errcode: (28|30|122)|errno: (28|30|122)|error (28|135|136) )|No space left/i.test(e.sqlMessage ?? e.message ?? ''),
  );
