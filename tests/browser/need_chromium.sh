# Find a Chromium for the browser tests; install Debian's when this is root, else say what to do.
for name in chromium chromium-browser; do
  command -v "$name" >/dev/null 2>&1 && exit 0
done
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium && exit 0
fi
echo "The browser tests need Chromium. Install Debian's package: apt-get install chromium" >&2
exit 1
