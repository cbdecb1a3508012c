#!/bin/sh
# Installs Chromium, fonts and the PDF text tool on Debian where they are missing.
set -eu
missing=""
command -v chromium >/dev/null 2>&1 || missing="$missing chromium"
command -v pdftotext >/dev/null 2>&1 || missing="$missing poppler-utils"
fc-list 2>/dev/null | grep -q . || missing="$missing fonts-dejavu-core fontconfig"
[ -z "$missing" ] && exit 0
echo "installing$missing"
apt-get update -qq
DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing
