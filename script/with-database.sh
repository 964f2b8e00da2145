# A temporary PostgreSQL for one run of something; sourced after prepare.sh. Sets DATABASE_URL, cleans up at exit.
source script/postgres.sh
need_debian postgresql has_postgres
need_debian chromium 'command -v chromium >/dev/null'
need_packages
need_build
work=$(mktemp -d)
chmod 755 "$work"
trap 'pg_stop; rm -rf "$work"' EXIT
PG_EXTRA='-c fsync=off -c full_page_writes=off' pg_start "$work/data"
JOSSEL_TEST_PG_BIN=$(pg_bin)
export JOSSEL_TEST_PG_BIN
