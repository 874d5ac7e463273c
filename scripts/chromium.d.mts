/** How Debian's Chromium is started for tests, pictures and bench. */
export declare const launchOptions: { executablePath: string; args: string[] };
/** A port that nobody uses. */
export declare const freePort: () => Promise<number>;
