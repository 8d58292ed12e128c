/** A sheet over the page. Whatever had the focus when it opened has it again when it closes, also where no one key opens
 *  it: an Esc never throws a person back to the page's start. */
import { Dialog } from "radix-ui";
import { useState, type ComponentProps } from "react";

export function SheetContent({ className = "sheet", ...rest }: ComponentProps<typeof Dialog.Content>) {
  const [opener] = useState(() => document.activeElement as HTMLElement | null);
  return (
    <Dialog.Content
      className={className}
      aria-describedby={undefined}
      onCloseAutoFocus={(event) => {
        event.preventDefault();
        if (opener?.isConnected) opener.focus();
      }}
      {...rest}
    />
  );
}
