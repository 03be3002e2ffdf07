#!/bin/sh
# Makes a Debian package out of a program that is built: deb.sh PROGRAM FOLDER prints the path of the package.
# COMPRESSION is none, gzip, xz or zstd.
set -eu
program=$1 out=$2
here=$(CDPATH='' cd -- "$(dirname -- "$0")" && pwd)
version=$("$program" --version | cut -d' ' -f2)
architecture=$(dpkg --print-architecture)
tree=$(mktemp -d)
trap 'rm -rf "$tree"' EXIT
chmod 755 "$tree"

install -D -m 755 "$program" "$tree/usr/bin/ratiomet"
install -D -m 644 "$here/ratiomet.service" "$tree/usr/lib/systemd/system/ratiomet.service"
for licence in MIT APACHE; do
    install -D -m 644 "$here/../LICENSE-$licence" "$tree/usr/share/doc/ratiomet/LICENSE-$licence"
done
"$program" man --out "$tree/usr/share/man/man1"
gzip -9n "$tree"/usr/share/man/man1/*.1
mkdir -p "$tree/usr/share/bash-completion/completions" "$tree/usr/share/zsh/vendor-completions" \
    "$tree/usr/share/fish/vendor_completions.d"
"$program" completions bash > "$tree/usr/share/bash-completion/completions/ratiomet"
"$program" completions zsh > "$tree/usr/share/zsh/vendor-completions/_ratiomet"
"$program" completions fish > "$tree/usr/share/fish/vendor_completions.d/ratiomet.fish"

# A program that carries everything depends on nothing.
if ldd "$program" 2>&1 | grep -q 'statically linked'; then depends=''; else depends='Depends: libc6
'; fi
mkdir "$tree/DEBIAN"
cat > "$tree/DEBIAN/control" <<CONTROL
Package: ratiomet
Version: $version
Architecture: $architecture
Maintainer: The developers of Ratiomet <ratiomet@localhost>
Installed-Size: $(du -sk "$tree/usr" | cut -f1)
${depends}Recommends: ffmpeg
Section: video
Priority: optional
Description: plans frame geometry conversions for post-production
 How footage of any shape lands in the frames to deliver: desqueezing, ratio
 extraction, pixel aspect, spheres, with exact numbers, drawings and recipes.
CONTROL
mkdir -p "$out"
package="$out/ratiomet_${version}_${architecture}.deb"
dpkg-deb --root-owner-group -Z"${COMPRESSION:-xz}" --build "$tree" "$package" > /dev/null
printf '%s\n' "$package"
