import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { randomUUID } from "node:crypto";
import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { setTimeout as pause } from "node:timers/promises";

const dll = resolve(import.meta.dirname, "../../../src/Kinetra.Server/bin/Release/net10.0/Kinetra.Server.dll");

// Shows without cables, chains and destinations, that tests build upon.
const firstShows = resolve(import.meta.dirname, "../../shows");

// Made by the first server, read by the others.
const standIns = join(process.env.KINETRA_TEST_HOME ?? tmpdir(), "stand-ins");

/** How to reach a PostgreSQL: the parts of a connection string. */
export type Connection = Record<string, string>;

export function readConnection(text: string): Connection {
  return Object.fromEntries(text.split(";").map((part) => part.split("=", 2) as [string, string]));
}

/** The one that the test command hands over. */
export function givenConnection(): Connection {
  const text = process.env.KINETRA_DB;
  if (!text) throw new Error("These tests need the PostgreSQL that ./kinetra test starts.");
  return readConnection(text);
}

/** A real server in a process of its own, with a database and a data folder of its own. */
export class Server {
  readonly data = mkdtempSync(join(tmpdir(), "kinetra-e2e-"));
  readonly clock: "real" | "stepped";
  readonly #firstShows: string[];
  readonly #database = `e2e_${randomUUID().replaceAll("-", "")}`;
  readonly #connection: Connection;
  readonly #small: { folder: string; megabytes: number } | null;
  #process: ChildProcess | null = null;
  #url = "";

  /** With the demo, it begins with the shows that the application begins with. */
  constructor(
    clock: "real" | "stepped",
    connection: Connection = givenConnection(),
    {
      demo = false,
      small = null,
    }: {
      demo?: boolean;
      /** A folder of its that is a small disk; nobody but the server sees what lies in it. */
      small?: ((data: string) => { folder: string; megabytes: number }) | null;
    } = {},
  ) {
    this.clock = clock;
    this.#firstShows = demo ? [] : ["--first-shows", firstShows];
    this.#connection = connection;
    this.#small = small?.(this.data) ?? null;
  }

  /** The process of it, while it runs. */
  get pid(): number | undefined {
    return this.#process?.pid;
  }

  get url(): string {
    return this.#url;
  }

  async create() {
    this.#psql(`create database ${this.#database}`);
    await this.start();
  }

  /** Starts it; on the port it had before, where it had one. */
  async start() {
    const parts = { ...this.#connection, Database: this.#database };
    const connection = Object.entries(parts)
      .map(([k, v]) => `${k}=${v}`)
      .join(";");
    const port = this.#url === "" ? "0" : new URL(this.#url).port;
    const { command, mount } = this.#disk();
    const child = spawn(
      command[0] ?? "bash",
      [
        ...command.slice(1),
        "-c",
        `${mount}trap "" XFSZ; exec dotnet "$@"`,
        "dotnet",
        dll,
        "serve",
        "--port",
        port,
        "--data",
        this.data,
        "--clock",
        this.clock,
        "--stand-ins",
        standIns,
        "--station",
        "0",
        ...this.#firstShows,
      ],
      {
        // Many short lives: no time is spent on what only a long one would gain from. By the real clock all is compiled as it is for everybody.
        env: {
          ...process.env,
          KINETRA_DB: connection,
          DOTNET_TieredPGO: "0",
          ...(this.clock === "stepped"
            ? { DOTNET_TC_QuickJit: "1", DOTNET_TC_QuickJitForLoops: "0", DOTNET_TC_CallCountThreshold: "400" }
            : {}),
        },
        stdio: ["ignore", "pipe", "inherit"],
      },
    );
    this.#process = child;
    this.#url = await new Promise<string>((found, failed) => {
      let said = "";
      child.stdout?.on("data", (data: Buffer) => {
        said += data.toString();
        const url = /serves on (http:\S+)/.exec(said)?.[1];
        if (url) found(url);
      });
      child.on("exit", () => failed(new Error(`The server ended: ${said}`)));
    });
    while (((await this.get("/api/status")) as { waitingFor: string | null }).waitingFor !== null) {
      // Whoever asks without a pause takes half of the machine that starts.
      await pause(50);
    }
  }

  // Whoever is no administrator is one in a name space of his own.
  #disk(): { command: string[]; mount: string } {
    if (!this.#small) return { command: ["bash"], mount: "" };
    const { folder, megabytes } = this.#small;
    mkdirSync(folder, { recursive: true });
    return {
      command: ["unshare", process.getuid?.() === 0 ? "-m" : "-rm", "bash"],
      mount: `mount -t tmpfs -o size=${megabytes}m tmpfs '${folder}' || exit 1; `,
    };
  }

  /** From now on no file of its can grow beyond so many bytes, as on a disk that is full. */
  limitFiles(bytes: number) {
    execFileSync("prlimit", ["--pid", String(this.#process?.pid), `--fsize=${bytes}`]);
  }

  /** Its database turns everybody away, or lets everybody in again. */
  async allowDatabase(allow: boolean) {
    this.#psql(`alter database ${this.#database} allow_connections ${allow}`);
    if (!allow)
      this.#psql(`select pg_terminate_backend(pid) from pg_stat_activity where datname = '${this.#database}'`);
  }

  /** Ends it at once, as a crash would. */
  async kill() {
    const child = this.#process;
    this.#process = null;
    if (!child) return;
    const ended = new Promise((done) => child.once("exit", done));
    child.removeAllListeners("exit");
    const gone = new Promise((done) => child.once("exit", done));
    child.kill("SIGKILL");
    await Promise.race([ended, gone]);
  }

  async remove() {
    await this.kill();
    this.#psql(`drop database ${this.#database} with (force)`);
    rmSync(this.data, { recursive: true });
  }

  #psql(sql: string) {
    const { Host, Port, Username, Password } = this.#connection;
    execFileSync(
      join(process.env.KINETRA_PG_BIN ?? "", "psql"),
      ["-h", Host ?? "", "-p", Port ?? "", "-U", Username ?? "", "-d", "postgres", "-qc", sql],
      { env: { ...process.env, PGPASSWORD: Password } },
    );
  }

  /** LIVE in a path is the live show. */
  async get(path: string): Promise<unknown> {
    return (await fetch(this.#url + (await this.#addressed(path)))).json();
  }

  // A change was made on what there is now, unless it says otherwise.
  async #addressed(path: string): Promise<string> {
    if (!path.includes("LIVE")) return path;
    const { id, revision } = (await this.get("/api/shows/live")) as { id: string; revision: number };
    return path.replace("LIVE", id) + (path.includes("?") ? "" : `?revision=${revision}`);
  }

  /** Sends a form, with a file in it. */
  async sendForm(path: string, form: FormData): Promise<unknown> {
    return (await fetch(this.#url + (await this.#addressed(path)), { method: "POST", body: form })).json();
  }

  async send(method: string, path: string, body: unknown, headers: Record<string, string> = {}): Promise<unknown> {
    const response = await fetch(this.#url + (await this.#addressed(path)), {
      method,
      headers: { "Content-Type": "application/json", ...headers },
      body: JSON.stringify(body),
    });
    const text = await response.text();
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text}`);
    return text === "" ? null : JSON.parse(text);
  }

  /** Stepped clock: lets so much of the show pass. */
  async step(seconds: number) {
    await this.send("POST", "/api/clock/steps", { frames: Math.round(seconds * 48000) });
  }
}
