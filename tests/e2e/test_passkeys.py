"""Passkeys by clicks, with the authenticator that Chromium itself brings for tests (Web Authentication, W3C, level 2):
another maker's reading of the standard than the library that checks what comes back."""

import json
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, CDPSession, Page, expect

from tests.e2e.conftest import axe_finds_nothing

from . import screenshots
from .serving import served


def authenticator(page: Page) -> tuple[CDPSession, str]:
    """A device that knows who holds it, and says yes at once."""
    protocol = page.context.new_cdp_session(page)
    protocol.send("WebAuthn.enable")
    options = {
        "protocol": "ctap2", "transport": "internal", "hasResidentKey": True, "hasUserVerification": True,
        "isUserVerified": True, "automaticPresenceSimulation": True,
    }  # fmt: skip
    return protocol, protocol.send("WebAuthn.addVirtualAuthenticator", {"options": options})["authenticatorId"]


def sign_out(page: Page, address: str) -> None:
    page.request.post(f"{address}/api/v1/sign-out", headers=token(page))
    page.goto(address)


def token(page: Page) -> dict[str, str]:
    cookies: Any = page.context.cookies()
    value = next(cookie["value"] for cookie in cookies if cookie["name"] == "verso_csrf")
    return {"X-Verso-Csrf": value, "Content-Type": "application/json"}


def test_a_passkey_is_made_used_copied_and_taken_out(browser: Browser, tmp_path: Path) -> None:
    with served(tmp_path / "school", demo=True) as served_at:
        address = served_at.replace("127.0.0.1", "localhost")  # a passkey belongs to a name
        context = browser.new_context(viewport=screenshots.LAPTOP)  # type: ignore[arg-type]
        page = context.new_page()
        protocol, device = authenticator(page)
        screenshots.sign_in(page, address)
        page.goto(f"{address}/account")
        rows = page.get_by_role("table", name="Passkeys").get_by_role("row")
        page.get_by_role("button", name="Make a passkey on this device").click()
        expect(rows).to_have_count(2)
        axe_finds_nothing(page)

        sign_out(page, address)
        page.get_by_role("button", name="Sign in with a passkey").click()
        expect(page.get_by_role("link", name="Findings", exact=True)).to_be_visible()
        # A copy of the device, with fewer uses than the original has had since, does not get in.
        (credential,) = protocol.send("WebAuthn.getCredentials", {"authenticatorId": device})["credentials"]
        sign_out(page, address)
        protocol.send(
            "WebAuthn.removeCredential", {"authenticatorId": device, "credentialId": credential["credentialId"]}
        )
        protocol.send(
            "WebAuthn.addCredential", {"authenticatorId": device, "credential": {**credential, "signCount": 0}}
        )
        page.get_by_role("button", name="Sign in with a passkey").click()
        expect(page.get_by_role("alert")).to_contain_text("not known here")

        screenshots.sign_in(page, address)
        page.goto(f"{address}/account")
        page.get_by_role("button", name="Take out the passkey").click()
        expect(page.get_by_text("You can no longer sign in with it.")).to_be_visible()
        axe_finds_nothing(page)
        page.get_by_role("button", name="Take it out").click()
        expect(rows).to_have_count(0)
        sign_out(page, address)
        page.get_by_role("button", name="Sign in with a passkey").click()
        expect(page.get_by_role("alert")).to_contain_text("not known here")
        # What nobody asked for, and what is no answer at all, is refused in words.
        for body in ({"response": {}}, {"response": {"id": "x", "rawId": "!", "type": "public-key", "response": {}}}):
            reply = page.request.post(f"{address}/api/v1/sign-in/passkey", data=json.dumps(body), headers=token(page))
            assert (reply.status, "not known" in reply.text()) == (401, True)
        context.close()
