for p in /proc/[0-9]*; do if tr '\0' ' ' < $p/cmdline 2>/dev/null | grep -q '.output/server/index.mjs'; then tr '\0' '\n' < $p/environ | grep '^NUXT_' | sed 's/=\(.*\)/="\1"/;s/^/export /' > /tmp/nuxtenv; fi; done
. /tmp/nuxtenv; export NUXT_DELIVERY_DIRECTORY=/work/main/.output/delivery NUXT_OWN_ORIGIN=http://127.0.0.1:4300
exec npx nuxt dev --port 4300 --host 127.0.0.1
