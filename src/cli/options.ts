/** Options that mean the same in every command. */
export interface Shared {
  tuning?: string[];
  level?: string[];
  input?: string[];
  set?: string[];
  abilities?: string[];
  rate?: number;
  seconds?: number;
  out?: string;
  format?: string;
  json?: boolean;
  quiet?: boolean;
}

/** Of commands that may take long. */
export interface Long {
  workers?: number;
}
