import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { type Connection, readConnection } from "./server.ts";

const root = resolve(import.meta.dirname, "../../..");

function script(commands: string): string {
  const scripts = ". scripts/install.sh; . scripts/database.sh;";
  return execFileSync("bash", ["-c", `set -euo pipefail; ${scripts} ${commands}`], { cwd: root }).toString();
}

/** A PostgreSQL of a test's own, as durable as the one that people run, that can be made to crash. */
export class Cluster {
  readonly #folder = mkdtempSync(join(tmpdir(), "kinetra-pg-"));
  readonly connection: Connection;

  constructor() {
    execFileSync("chmod", ["711", this.#folder]);
    const said = script(`start_database ${this.#folder}/database endure; printf '%s' "$KINETRA_DB"`);
    this.connection = readConnection(said);
  }

  /** Ends it at once, as a crash would: kill −9 of the process that all others hang on. */
  crash() {
    const pid = readFileSync(join(this.#folder, "database/cluster/postmaster.pid"), "utf8").split("\n")[0];
    process.kill(Number(pid), "SIGKILL");
  }

  /** Starts it again; what is left of the old one goes first. */
  restart() {
    script(`until restart_database ${this.#folder}/database 2>/dev/null; do :; done`);
  }

  remove() {
    script(`stop_database ${this.#folder}/database`);
    rmSync(this.#folder, { recursive: true });
  }
}
