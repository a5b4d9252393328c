/** Saves a text as a file of the person's own. */
export function saveText(text: string, name: string, type = "application/json") {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  // The browser has taken it by then.
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** Has the browser save what the server gives at an address, by the name that the server says. */
export function saveFrom(url: string) {
  const link = document.createElement("a");
  link.href = url;
  link.download = "";
  link.click();
}
