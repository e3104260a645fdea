package dev.dusky.app.watch;

import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.LoadResult;
import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.tally.Tally;
import dev.dusky.core.usage.Usage;
import io.prometheus.metrics.core.metrics.Counter;
import io.prometheus.metrics.core.metrics.Gauge;
import io.prometheus.metrics.expositionformats.OpenMetricsTextFormatWriter;
import io.prometheus.metrics.model.registry.PrometheusRegistry;
import io.prometheus.metrics.model.snapshots.Unit;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;

/** The metrics of this process since it started, as OpenMetrics. */
final class WatchMetrics {

  private final PrometheusRegistry registry = new PrometheusRegistry();
  private final OpenMetricsTextFormatWriter writer =
      OpenMetricsTextFormatWriter.builder().setCreatedTimestampsEnabled(false).build();
  private final Counter files =
      counter("dusky_files", "Files settled, by outcome", "feed", "state");
  private final Counter rows = counter("dusky_rows", "Records read, by outcome", "feed", "outcome");
  private final Counter failures = counter("dusky_failures", "Failed scans", "name");
  private final Counter merged = counter("dusky_merged_rows", "Landed rows merged", "merge");
  private final Counter notified =
      counter("dusky_notifications", "Notifications received, by outcome", "outcome");
  private final Gauge left = gauge("dusky_files_left", "Files left waiting", "feed", "why");
  private final Gauge posted =
      Gauge.builder()
          .name("dusky_last_post_seconds")
          .unit(Unit.SECONDS)
          .help("When a file was last posted, in seconds since 1970")
          .labelNames("feed")
          .register(registry);
  private final Counter seconds =
      Counter.builder()
          .name("dusky_load_seconds")
          .unit(Unit.SECONDS)
          .help("Time spent loading")
          .labelNames("feed")
          .register(registry);

  private final Counter processor =
      Counter.builder()
          .name("dusky_processor_seconds")
          .unit(Unit.SECONDS)
          .help("Processor time of loads")
          .labelNames("feed")
          .register(registry);
  private final Counter requests =
      counter("dusky_requests", "Requests to object stores by loads", "feed", "kind");
  private final Counter bytes =
      Counter.builder()
          .name("dusky_network_bytes")
          .unit(Unit.BYTES)
          .help("Bytes received from and sent to object stores by loads")
          .labelNames("feed", "direction")
          .register(registry);
  private final Gauge missing =
      gauge("dusky_files_missing", "Files that are due and did not come", "feed");

  private Counter counter(String name, String help, String... labels) {
    return Counter.builder().name(name).help(help).labelNames(labels).register(registry);
  }

  private Gauge gauge(String name, String help, String... labels) {
    return Gauge.builder().name(name).help(help).labelNames(labels).register(registry);
  }

  void loaded(LoadResult result, long epochSeconds) {
    String feed = result.feed();
    result.files().forEach((state, count) -> files.labelValues(feed, state.label()).inc(count));
    Tally tally = result.tally();
    rows.labelValues(feed, "loaded").inc(tally.loaded());
    rows.labelValues(feed, "duplicate").inc(tally.duplicate());
    rows.labelValues(feed, "rejected").inc(tally.rejected());
    rows.labelValues(feed, "filtered").inc(tally.filtered());
    left.labelValues(feed, "stuck").set(result.aside().stuck() + result.count(FileState.REFUSED));
    left.labelValues(feed, "unready").set(result.aside().unready());
    Usage usage = result.usage();
    processor.labelValues(feed).inc(usage.processorMillis() / 1e3);
    usage.requests().forEach((kind, n) -> requests.labelValues(feed, kind.label()).inc(n));
    bytes.labelValues(feed, "in").inc(usage.bytesIn());
    bytes.labelValues(feed, "out").inc(usage.bytesOut());
    if (result.loadId() != 0) {
      seconds.labelValues(feed).inc(result.elapsed().toNanos() / 1e9);
    }
    if (result.count(FileState.POSTED) > 0) {
      posted.labelValues(feed).set(epochSeconds);
    }
  }

  void missing(String feed, long files) {
    missing.labelValues(feed).set(files);
  }

  void merged(String merge, MergeTally tally) {
    merged.labelValues(merge).inc(tally.landed());
  }

  void failed(String name) {
    failures.labelValues(name).inc();
  }

  void notified(String outcome, long count) {
    notified.labelValues(outcome).inc(count);
  }

  /** The media type of {@link #text}. */
  String contentType() {
    return writer.getContentType();
  }

  /** All of it in the text form of OpenMetrics 1.0. */
  byte[] text() {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try {
      writer.write(out, registry.scrape());
    } catch (IOException e) {
      throw new UncheckedIOException("writing metrics into memory", e);
    }
    return out.toByteArray();
  }
}
