/** A speed as it is said: "100 Mb/s", "1 Gb/s". */
export const speedWords = (mbps: number): string => (mbps >= 1000 ? `${mbps / 1000} Gb/s` : `${mbps} Mb/s`);
