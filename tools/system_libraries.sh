#!/usr/bin/env bash
# Installs the few system libraries Qt and the dossier need (Debian/Ubuntu, as root); otherwise prints the line to run.
set -u
missing=()
for name in "$@"; do
  dpkg -s "$name" >/dev/null 2>&1 || missing+=("$name")
done
[ ${#missing[@]} -eq 0 ] && exit 0
if command -v apt-get >/dev/null 2>&1 && [ "$(id -u)" = 0 ]; then
  echo "Installing system libraries: ${missing[*]}"
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null \
    || echo "Could not install them all; Nuthatch may still start." >&2
else
  echo "Some system libraries are missing. On Debian or Ubuntu run:"
  echo "  sudo apt-get install ${missing[*]}"
fi
exit 0
