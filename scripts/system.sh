#!/usr/bin/env bash
# Installs from Debian's packages what is missing: MariaDB's programs, word lists for spelling, Chromium for the browser
# tests, the servers that the tests of hosts run on loopback, and a parser that counts errors. None of them is started by being installed.
set -euo pipefail
want=()
[ -x /usr/sbin/mariadbd ] || want+=(mariadb-server-core)
[ -x /usr/bin/mariadb-install-db ] || want+=(mariadb-server-core mariadb-client-core)
[ -x /usr/bin/mariadb ] || want+=(mariadb-client-core)
[ -f /usr/share/dict/british-english ] || want+=(wbritish)
[ -f /usr/share/dict/american-english ] || want+=(wamerican)
[ -x /usr/bin/chromium ] || want+=(chromium)
[ -x /usr/bin/chromium-headless-shell ] || want+=(chromium-headless-shell)
[ -x /usr/sbin/apache2 ] || want+=(apache2-bin)
[ -f /usr/lib/nginx/modules/ngx_http_dav_ext_module.so ] || want+=(nginx-light libnginx-mod-http-dav-ext)
[ -x /usr/bin/rclone ] || want+=(rclone)
[ -x /usr/sbin/sshd ] || want+=(openssh-server)
[ -x /usr/bin/convert ] || want+=(imagemagick)
[ -f /usr/share/color/icc/compatibleWithAdobeRGB1998.icc ] || want+=(icc-profiles-free)
[ -x /usr/bin/git ] || want+=(git)
[ -d /usr/lib/python3/dist-packages/html5lib ] || want+=(python3-html5lib)
[ -x /usr/bin/litmus ] || want+=(litmus)
[ -x /usr/sbin/proftpd ] && [ -f /usr/lib/proftpd/mod_tls.so ] || want+=(proftpd-core proftpd-mod-crypto)
[ -f /etc/mime.types ] || want+=(media-types)
[ -x /usr/bin/openssl ] || want+=(openssl)
[ -d /usr/share/fonts/truetype/dejavu ] || want+=(fonts-dejavu-core)
if [ ${#want[@]} -gt 0 ]; then
  echo "installing ${want[*]}"
  if [ ! -e /usr/sbin/policy-rc.d ]; then # starts no service (Debian policy, 9.3.3.1)
    printf '#!/bin/sh\nexit 101\n' > /usr/sbin/policy-rc.d
    chmod +x /usr/sbin/policy-rc.d
    trap 'rm -f /usr/sbin/policy-rc.d' EXIT
  fi
  apt-get update -qq -o DPkg::Lock::Timeout=300
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends -o DPkg::Lock::Timeout=300 "${want[@]}" >/dev/null
fi
# Debian's vsftpd keeps out ProFTPD as a package; its program alone lies beside.
if [ ! -x /usr/local/lib/mendry-tests/vsftpd ]; then
  echo "fetching vsftpd"
  at=$(mktemp -d)
  (cd "$at" && apt-get download -qq -o APT::Sandbox::User=root vsftpd >/dev/null && dpkg -x vsftpd_*.deb . && install -D usr/sbin/vsftpd /usr/local/lib/mendry-tests/vsftpd)
  rm -rf "$at"
fi
