/** Hand a text to the browser as a file to save. */
export function saveAs(name: string, text: string, kind = "application/json") {
  const address = URL.createObjectURL(new Blob([text], { type: kind }));
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}
