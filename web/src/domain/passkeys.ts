/** The browser's side of passkeys: the server's question to the device, and its answer, as JSON. No rule is
 *  here: the server checks the answer. */

type Json = Record<string, unknown>;

function bytes(text: string): Uint8Array<ArrayBuffer> {
  const plain = atob(text.replace(/-/g, "+").replace(/_/g, "/"));
  return Uint8Array.from(plain, (letter) => letter.charCodeAt(0));
}

function text(data: ArrayBuffer): string {
  return btoa(String.fromCharCode(...new Uint8Array(data)))
    .replace(/\+/g, "-")
    .replace(/\//g, "_")
    .replace(/=+$/, "");
}

const named = (list: unknown): PublicKeyCredentialDescriptor[] =>
  ((list as { id: string }[] | undefined) ?? []).map((one) => ({ type: "public-key", id: bytes(one.id) }));

export async function askToMake(options: Json): Promise<Json> {
  const user = options.user as { id: string; name: string; displayName: string };
  const made = (await navigator.credentials.create({
    publicKey: {
      ...(options as unknown as PublicKeyCredentialCreationOptions),
      challenge: bytes(options.challenge as string),
      user: { ...user, id: bytes(user.id) },
      excludeCredentials: named(options.excludeCredentials),
    },
  })) as PublicKeyCredential | null;
  if (!made) throw new Error("The device made no passkey.");
  const answer = made.response as AuthenticatorAttestationResponse;
  return {
    id: made.id,
    rawId: text(made.rawId),
    type: made.type,
    response: {
      clientDataJSON: text(answer.clientDataJSON),
      attestationObject: text(answer.attestationObject),
    },
  };
}

export async function askToSign(options: Json): Promise<Json> {
  const signed = (await navigator.credentials.get({
    publicKey: {
      ...(options as unknown as PublicKeyCredentialRequestOptions),
      challenge: bytes(options.challenge as string),
      allowCredentials: named(options.allowCredentials),
    },
  })) as PublicKeyCredential | null;
  if (!signed) throw new Error("The device gave no passkey.");
  const answer = signed.response as AuthenticatorAssertionResponse;
  return {
    id: signed.id,
    rawId: text(signed.rawId),
    type: signed.type,
    response: {
      clientDataJSON: text(answer.clientDataJSON),
      authenticatorData: text(answer.authenticatorData),
      signature: text(answer.signature),
      userHandle: answer.userHandle ? text(answer.userHandle) : null,
    },
  };
}
