# The site or its worker in a container; it needs a database and a proxy with TLS.
#   make wheel && podman build --tag still-reed .
# Required settings: docs/running/containers.md
FROM debian:12-slim

RUN apt-get update -q \
    && apt-get install -y -q --no-install-recommends \
    python3.11 python3.11-venv postgresql-client libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0 \
    && rm -rf /var/lib/apt/lists/*
RUN adduser --system --group --home /var/lib/still-reed still-reed \
    && install -d -m 750 -o still-reed -g still-reed /var/cache/still-reed /var/backups/still-reed /var/lib/still-reed/journal

COPY dist/requirements.txt dist/still_reed-*.whl /tmp/release/
RUN /usr/bin/python3.11 -m venv /opt/still-reed \
    && /opt/still-reed/bin/pip install -q --require-hashes --no-deps -r /tmp/release/requirements.txt \
    && /opt/still-reed/bin/pip install -q --no-deps /tmp/release/still_reed-*.whl \
    && rm -rf /tmp/release
ENV PATH=/opt/still-reed/bin:$PATH NUMBA_CACHE_DIR=/var/cache/still-reed
# Static files are the same for every clinic; these settings apply to this line only and protect nothing
RUN SECRET_KEY=collecting ALLOWED_HOSTS=localhost SITE_URL=https://localhost \
    DATABASE_URL=postgres://nobody@localhost/nothing EMAIL_URL=smtp://localhost MAIL_FROM=nobody@localhost \
    still-reed collectstatic --noinput --skip-checks

USER still-reed
EXPOSE 8001
HEALTHCHECK --start-period=60s CMD ["still-reed", "alive"]
CMD ["still-reed", "serve", "--host", "0.0.0.0"]
