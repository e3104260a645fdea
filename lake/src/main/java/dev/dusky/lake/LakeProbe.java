package dev.dusky.lake;

import dev.dusky.core.depot.ProbeStep;
import dev.dusky.core.depot.ProbeStep.Finding;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.repeat.RepeatPolicy;
import dev.dusky.core.table.TableName;
import dev.dusky.core.warehouse.LakeSettings;
import dev.dusky.lake.engine.EngineLaunch;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.service.CatalogService;
import dev.dusky.lake.type.LakePartitions;
import dev.dusky.lake.type.LakeSorting;
import dev.dusky.warehouses.connection.Database;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import org.apache.iceberg.io.FileIO;

/** What can be tried of tables in object storage, and what people should know of them. */
final class LakeProbe {

  private static final byte[] SAMPLE = "tried by dusky probe\n".getBytes(StandardCharsets.US_ASCII);

  private final LakeSettings settings;
  private final Database database;
  private final LakeCatalog catalog;
  private final LakeFailures failures;
  private final Optional<CatalogService> service;

  LakeProbe(
      LakeSettings settings,
      Database database,
      LakeCatalog catalog,
      LakeFailures failures,
      Optional<CatalogService> service) {
    this.service = service;
    this.settings = settings;
    this.database = database;
    this.catalog = catalog;
    this.failures = failures;
  }

  /** The place of the tables, the rules that they can have, and the engine. */
  List<ProbeStep> steps() {
    List<ProbeStep> steps = new ArrayList<>();
    service.ifPresent(
        asked ->
            steps.add(
                new ProbeStep(
                    "catalog",
                    () ->
                        Finding.passed(
                            "it answers and lists %d tables".formatted(asked.tables().size())))));
    steps.addAll(
        List.of(
            new ProbeStep("write", () -> failures.run("Writing a file for tables", this::sample)),
            new ProbeStep(
                "rules",
                () ->
                    Finding.passed(
                        "tables can refuse null only; repeats: and check: of a feed do the rest")),
            new ProbeStep("engine", this::engine)));
    return steps;
  }

  private Finding sample() {
    FileIO files = catalog.files();
    String location = settings.place() + "/.dusky-probe-" + UUID.randomUUID();
    try {
      try (OutputStream out = files.newOutputFile(location).create()) {
        out.write(SAMPLE);
      }
      try (InputStream in = files.newInputFile(location).newStream()) {
        if (in.readAllBytes().length != SAMPLE.length) {
          throw new IOException(location + " does not come back as it was written");
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    files.deleteFile(location);
    return Finding.passed(
        "a small file written below %s, read and removed".formatted(settings.place()));
  }

  private Finding engine() {
    return settings
        .engine()
        .map(
            engine ->
                Finding.passed(
                    "%s, libraries in %s".formatted(engine.at(), EngineLaunch.jars(engine))))
        .orElseGet(() -> Finding.untried("none: merges, and SQL over tables, need one"));
  }

  /** What is to be known of a feed's table. */
  ProbeStep step(Feed feed) {
    return new ProbeStep(
        "table",
        () -> Finding.passed("%s %s; %s".formatted(feed.into(), arrangement(feed), repeats(feed))));
  }

  private String arrangement(Feed feed) {
    String declared =
        arranged(
            text(feed.policies().arrangement().partition()),
            text(feed.policies().arrangement().sort()));
    Optional<String> is = arrangement(feed.into());
    if (is.isEmpty()) {
      return "does not exist yet, %s then".formatted(declared);
    }
    return is.get().equals(declared)
        ? "is " + declared
        : "is %s, although feed %s says %s: those keys are for a new table"
            .formatted(is.get(), feed.name(), declared);
  }

  private static String text(List<?> fields) {
    return fields.stream().map(Object::toString).collect(Collectors.joining(", "));
  }

  private static String arranged(String partition, String sort) {
    return (partition.isEmpty() ? "not divided" : "divided by " + partition)
        + (sort.isEmpty() ? "" : ", sorted by " + sort);
  }

  private Optional<String> arrangement(TableName table) {
    return database.transact(
        "Reading table " + table,
        h ->
            failures.run(
                "Reading table " + table,
                () ->
                    catalog
                        .table(h.getConnection(), table)
                        .map(
                            found ->
                                arranged(
                                    LakePartitions.text(found.spec()),
                                    LakeSorting.text(found.schema(), found.sortOrder())))));
  }

  private static String repeats(Feed feed) {
    RepeatPolicy policy = feed.policies().repeats();
    if (!policy.remove()) {
      return "rows that come twice stay (repeats: is not declared)";
    }
    return "rows that come twice are left out, looked for among those of the "
        + policy.scope().label();
  }
}
