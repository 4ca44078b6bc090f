#!/usr/bin/env bash
# Installs from Debian's packages what is missing: MariaDB's programs, word lists for spelling, and Chromium for the
# browser tests.
set -euo pipefail
want=()
[ -x /usr/sbin/mariadbd ] || want+=(mariadb-server-core)
[ -x /usr/bin/mariadb-install-db ] || want+=(mariadb-server-core mariadb-client-core)
[ -x /usr/bin/mariadb ] || want+=(mariadb-client-core)
[ -f /usr/share/dict/british-english ] || want+=(wbritish)
[ -f /usr/share/dict/american-english ] || want+=(wamerican)
[ -x /usr/bin/chromium ] || want+=(chromium)
[ -d /usr/share/fonts/truetype/dejavu ] || want+=(fonts-dejavu-core)
if [ ${#want[@]} -gt 0 ]; then
  echo "installing ${want[*]}"
  apt-get update -qq -o DPkg::Lock::Timeout=300
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends -o DPkg::Lock::Timeout=300 "${want[@]}" >/dev/null
fi
