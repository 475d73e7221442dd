# Find a Chromium for the browser tests; install Debian's when this is root, else say what to do.
# The one without a screen is tried first: it starts and draws faster.
for name in chromium-headless-shell chromium chromium-browser; do
  command -v "$name" >/dev/null 2>&1 && exit 0
done
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
  export DEBIAN_FRONTEND=noninteractive
  apt-get update -qq
  for name in chromium-headless-shell chromium; do
    apt-get install -y -qq --no-install-recommends "$name" && exit 0
  done
fi
echo "The browser tests need Chromium. Install Debian's package: apt-get install chromium-headless-shell" >&2
exit 1
