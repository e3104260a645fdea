package dev.dusky.app.stage;

import dev.dusky.app.config.DurationText;
import dev.dusky.app.config.Secrets;
import dev.dusky.app.config.SizeText;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.core.stream.RollPolicy;
import dev.dusky.core.stream.StreamIntake;
import dev.dusky.core.stream.StreamListener;
import dev.dusky.core.stream.StreamName;
import dev.dusky.core.stream.StreamStager;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import java.util.function.IntConsumer;

/** Collects a stream of records into files of a depot. */
public final class StageStream {

  private static final long BYTES = 64_000_000;
  private static final Duration AGE = Duration.ofSeconds(60);
  private static final long TICK_MILLIS = 100;

  private final Workspace workspace;
  private final String depot;
  private final StreamName name;
  private final RollPolicy roll;
  private final Path spool;

  /**
   * A stream.
   *
   * @param as the template of the files' paths
   * @param roll the size and age at which a file ends, such as {@code 64MB,60s}
   * @param spool the folder that keeps what is not staged yet; a separate one if empty
   */
  public StageStream(
      Workspace workspace, String depot, String as, Optional<String> roll, Optional<Path> spool) {
    workspace.configuration().depot(depot);
    this.workspace = workspace;
    this.depot = depot;
    this.name = new StreamName(as);
    this.roll = roll.map(StageStream::policy).orElse(new RollPolicy(BYTES, AGE));
    this.spool =
        spool.orElseGet(
            () ->
                workspace
                    .configuration()
                    .base()
                    .resolve(".dusky-spool")
                    .resolve(depot + "-" + as.replaceAll("[^A-Za-z0-9.]+", "-")));
  }

  private static RollPolicy policy(String text) {
    long bytes = BYTES;
    Duration age = AGE;
    for (String part : text.split(",")) {
      Optional<Long> size = SizeText.parse(part);
      Optional<Duration> span = DurationText.parse(part).filter(s -> !s.isZero());
      if (size.isEmpty() && span.isEmpty()) {
        throw Failure.usage("--roll cannot be '" + text + "'")
            .hint("Write a size, an age or both, such as 64MB,60s");
      }
      bytes = size.orElse(bytes);
      age = span.orElse(age);
    }
    return new RollPolicy(bytes, age);
  }

  /** The folder that keeps what is not staged yet. */
  public Path spool() {
    return spool;
  }

  /**
   * Takes records over HTTP until it is to stop.
   *
   * @param listen the address as HOST:PORT
   * @param secret the reference of the secret that clients send
   * @param ready told the port once records are taken
   */
  public StreamStager.Result listen(
      String listen,
      String secret,
      IntConsumer ready,
      StreamListener listener,
      BooleanSupplier stopped) {
    Secret word = Secrets.option("--secret", secret, workspace.configuration().base());
    try (StreamIntake intake =
        new StreamIntake(workspace.depot(depot), spool, name, roll, listener)) {
      try (StreamEndpoint endpoint = new StreamEndpoint(address(listen), word, intake)) {
        ready.accept(endpoint.port());
        while (!stopped.getAsBoolean()) {
          intake.tick();
          TimeUnit.MILLISECONDS.sleep(TICK_MILLIS);
        }
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
      return intake.finish();
    }
  }

  private static InetSocketAddress address(String listen) {
    int colon = listen.lastIndexOf(':');
    String port = listen.substring(colon + 1);
    if (colon <= 0 || !port.matches("\\d{1,5}") || Integer.parseInt(port) > 65_535) {
      throw Failure.usage("--listen cannot be '" + listen + "'")
          .hint("Write a host and a port such as 127.0.0.1:9500");
    }
    return new InetSocketAddress(listen.substring(0, colon), Integer.parseInt(port));
  }

  /**
   * Stages a stream to its end.
   *
   * @param json whether records are JSON values; if not, they are lines
   */
  public StreamStager.Result run(
      InputStream in, boolean json, StreamListener listener, BooleanSupplier stopped) {
    return new StreamStager(workspace.depot(depot), spool, name, roll, json, listener, stopped)
        .run(in);
  }
}
