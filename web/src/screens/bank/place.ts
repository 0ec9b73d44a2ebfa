/** What of the bank is open, kept in the address. */
export type Place = { charger?: string; job?: string; edit?: string };
