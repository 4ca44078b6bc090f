#!/usr/bin/env bash
# Fetches pages that nobody here wrote into DIR, one folder a source: from Debian's documentation packages and from npm
# packages that ship whole pages. Nothing is installed. Usage: corpus.sh DIR
set -euo pipefail
dir=$(mkdir -p "$1" && cd "$1" && pwd)
debian="debian-handbook developers-reference debian-policy debian-reference-en installation-guide-amd64 aptitude-doc-en
  git-doc postgresql-doc-15 r-doc-html tcl8.6-doc apache2-doc zsh-doc libboost1.74-doc python3.11-doc ruby3.1-doc
  sqlite3-doc exim4-doc-html postfix-doc graphviz-doc libxml2-doc python-django-doc gimp-help-en lilypond-doc-html"
npm="startbootstrap-agency startbootstrap-creative startbootstrap-freelancer startbootstrap-grayscale
  startbootstrap-clean-blog startbootstrap-landing-page startbootstrap-new-age startbootstrap-business-casual
  startbootstrap-modern-business startbootstrap-stylish-portfolio startbootstrap-resume"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cd "$work"
for p in $debian; do
  [ -d "$dir/$p" ] && continue
  apt-get download -qq "$p" >/dev/null 2>&1 || { echo "not to be had: $p" >&2; continue; }
  dpkg -x "$p"_*.deb x
  mkdir -p "$dir/$p"
  # Up to 250 pages of each, spread evenly over all that it has; big books would drown the others.
  find x -type f \( -name '*.html' -o -name '*.htm' \) -size +1k | LC_ALL=C sort > list
  n=$(wc -l < list)
  awk -v n="$n" -v m=250 'n <= m || int(NR * m / n) != int((NR - 1) * m / n)' list | while read -r f; do
    cp "$f" "$dir/$p/$(echo "${f#x/}" | tr / _ | tail -c 200)"
  done
  rm -rf x list ./*.deb
done
for p in $npm; do
  [ -d "$dir/$p" ] && continue
  npm pack --silent "$p" >/dev/null 2>&1 || { echo "not to be had: $p" >&2; continue; }
  tar -xzf "$p"-*.tgz
  mkdir -p "$dir/$p"
  find package -name '*.html' -not -path '*/node_modules/*' -not -path '*/vendor/*' | while read -r f; do
    cp "$f" "$dir/$p/$(echo "${f#package/}" | tr / _)"
  done
  rm -rf package ./*.tgz
done
