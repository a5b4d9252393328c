import { Check, Copy, Link2 } from "lucide-react";
import { useState } from "react";
import type { Address } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { tellWrong } from "@/core/notices/notices";
import { clock } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { Failed, faultOf, Loading } from "@/shared/ui/State";
import { useAddresses, useCloseAddress, useLetSenderGo, useOpenAddress } from "./addresses";
import { formOf, readersWords, senderWords } from "./words";

/** Mixes and cables that other programs of this computer read by address. */
export function Addresses() {
  const addresses = useAddresses();
  const show = useShow().data;
  const open = useOpenAddress();
  const fault = faultOf(addresses);
  return (
    <section aria-label="Addresses" className="max-w-5xl">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-[15px] font-semibold">Addresses</h2>
        <div className="grow" />
        {show && (
          <Menu
            title="An address for"
            trigger={
              <Button className="h-7" icon={<Link2 size={14} />}>
                Open an address
              </Button>
            }
            items={[
              ...show.mixes.map((m) => ({
                words: `the mix ${m.name}`,
                group: "Mixes",
                onSelect: () => open.mutate(`mix/${m.id}`),
              })),
              ...show.cables.map((c) => ({
                words: `the cable ${c.name}`,
                group: "Cables",
                onSelect: () => open.mutate(`cable/${c.id}`),
              })),
            ]}
          />
        )}
      </div>
      <p className="mt-1 max-w-3xl text-[13px] text-quiet">
        A program of this computer that can play from an address gets a mix or a cable here, without any virtual device.
        Whoever knows the address can listen, from this computer only; it stays the same until it is closed. A cable
        takes sound at its address, too, from a program that sends as to a radio station on the internet.
      </p>
      {fault && <Failed error={fault} retry={() => void addresses.refetch()} />}
      {!fault && !addresses.data && <Loading what="the addresses" />}
      {addresses.data?.length === 0 && (
        <p className="mt-2 text-[13px]">No address is open: no program gets anything in this way.</p>
      )}
      <ul className="mt-2" aria-label="Open addresses">
        {addresses.data?.map((address) => (
          <AddressLine key={address.key} address={address} />
        ))}
      </ul>
    </section>
  );
}

function AddressLine({ address }: { address: Address }) {
  const close = useCloseAddress();
  const [copied, setCopied] = useState<string | null>(null);
  const name = address.name ?? "Something that the show does not have now";
  return (
    <li aria-label={name} className="border-line border-t py-2 text-[13px]">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <span className="min-w-0 truncate font-semibold text-[14px]" title={name}>
          {name}
        </span>
        <span role="status" className="text-quiet">
          {readersWords(address.readers)}
        </span>
        <div className="grow" />
        <Button
          small
          tone="quiet"
          className="h-6"
          disabled={close.isPending}
          aria-label={`Close the address of ${name}`}
          onClick={() => close.mutate(address.key)}
        >
          Close
        </Button>
      </div>
      <ul className="mt-1 grid gap-x-6 gap-y-1 lg:grid-cols-2" aria-label={`Where ${name} is read`}>
        {address.paths.map((path) => {
          const { words, hint } = formOf(path);
          const url = `${location.origin}${path}`;
          return (
            <li key={path} className="flex min-w-0 items-center gap-2">
              <Button
                small
                className="h-6 w-20 shrink-0"
                icon={copied === path ? <Check size={12} /> : <Copy size={12} />}
                aria-label={`Copy the address of ${name} as ${words}`}
                title={hint}
                onClick={() => void navigator.clipboard.writeText(url).then(() => setCopied(path), tellWrong)}
              >
                {copied === path ? "Copied" : words}
              </Button>
              <span className="min-w-0 truncate text-quiet" title={url}>
                {url}
              </span>
            </li>
          );
        })}
      </ul>
      {address.into && <Into address={address} into={address.into} name={name} />}
    </li>
  );
}

/** Where a cable takes sound by its address, who sends it, and what came of who could not. */
function Into({ address, into, name }: { address: Address; into: string; name: string }) {
  const [copied, setCopied] = useState(false);
  const letGo = useLetSenderGo();
  const url = `${location.origin}${into}`;
  return (
    <div className="mt-2">
      <div className="flex flex-wrap items-baseline gap-x-2">
        <p role="status">{senderWords(address)}</p>
        {address.sender && (
          <Button
            small
            tone="quiet"
            className="h-6"
            disabled={letGo.isPending}
            title="Ends it at once; what it has handed over ahead is not heard any more."
            aria-label={`Let go: who sends into ${name}`}
            onClick={() => letGo.mutate(address.key)}
          >
            Let go
          </Button>
        )}
      </div>
      {address.refused && (
        <p className="text-wrong">
          {clock(address.refused.at)}: {address.refused.what} Allowed: {address.refused.allowed}.
        </p>
      )}
      <div className="mt-1 flex min-w-0 items-center gap-2">
        <Button
          small
          className="h-6 w-20 shrink-0"
          icon={copied ? <Check size={12} /> : <Copy size={12} />}
          aria-label={`Copy the address that sends into ${name}`}
          title="WAV, FLAC, MP3, or Opus, Vorbis or FLAC in Ogg; by PUT or SOURCE, any user and password"
          onClick={() => void navigator.clipboard.writeText(url).then(() => setCopied(true), tellWrong)}
        >
          {copied ? "Copied" : "Send in"}
        </Button>
        <span className="min-w-0 truncate text-quiet" title={url}>
          {url}
        </span>
      </div>
      {address.sender === null && (
        <p className="mt-1 text-quiet text-xs">
          In an encoder for internet radio: server {location.hostname}, port {location.port}, place {into}; any user and
          password. Sound as WAV, FLAC, MP3, or Opus, Vorbis or FLAC in Ogg.
        </p>
      )}
    </div>
  );
}
