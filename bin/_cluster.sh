# What three nodes of one MariaDB need, and a folder for them. Sourced after _common.sh and _database.sh.

cannot() { say "the cluster can't be tested here: $*"; exit 2; }
# shellcheck disable=SC2046
(install_packages "${database_packages[@]}" "${build_packages[@]}" galera-4 mariadb-backup socat iproute2 $(python_packages)) \
  || cannot "its packages couldn't be installed"
[ "$(id -u)" -eq 0 ] || cannot "a node takes a whole copy as root only"
make_environment dev
folder=$root/var/cluster
room=$(df --output=avail -m /dev/shm 2>/dev/null | tail -1 || true)
if [ "${room:-0}" -gt 3000 ] 2>/dev/null; then folder=$(mktemp -d /dev/shm/grimcoil-cluster.XXXXXX); else rm -rf "$folder"; mkdir -p "$folder"; fi
trap 'rm -rf "$folder"' EXIT
# The scripts of state transfer are in mariadb-server alone, which would start a service: only they are taken out of it.
copying=$(command -v wsrep_sst_mariabackup || true)
if [ -z "$copying" ]; then
  mkdir -p "$folder/package"
  (cd "$folder/package" && apt-get download -qq mariadb-server >/dev/null 2>&1 && dpkg-deb -x mariadb-server_*.deb .) \
    || cannot "the package mariadb-server, which has the scripts of state transfer, couldn't be fetched"
  copying=$folder/package/usr/bin/wsrep_sst_mariabackup
fi
mkdir -p "$folder/nodes"
export GRIMCOIL_CLUSTER=$folder/nodes GRIMCOIL_CLUSTER_COPYING
GRIMCOIL_CLUSTER_COPYING=$(dirname "$copying")
