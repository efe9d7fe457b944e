# Yare Keel for a club's server: the built wheel, data on a volume, not root.
#
#   make wheel
#   podman build -t yare-keel .
#   podman run -p 127.0.0.1:8421:8421 -v yare-keel-data:/data yare-keel
#
# The program has no accounts: for others than yourself put a reverse proxy with a log-in before it (docs/server.md), and name the proxy's
# address after --behind.
FROM docker.io/library/python:3.13-slim
COPY dist/yarekeel-*.whl /tmp/
RUN pip install --no-cache-dir /tmp/yarekeel-*.whl && rm /tmp/yarekeel-*.whl \
    && useradd --system --home-dir /data --create-home --uid 10001 yarekeel
USER yarekeel
ENV YAREKEEL_HOME=/data PYTHONUNBUFFERED=1
VOLUME /data
EXPOSE 8421
STOPSIGNAL SIGTERM
CMD ["yare-keel", "serve", "--no-browser", "--port", "8421", "--listen", "0.0.0.0", "--behind", "http://127.0.0.1:8421"]
