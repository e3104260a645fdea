package dev.dusky.core.load;

import dev.dusky.core.bytes.Checksums;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.expect.ControlFigures;
import dev.dusky.core.expect.FiguresJson;
import dev.dusky.core.expect.Manifest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.tally.ControlTotal;
import java.io.IOException;
import java.io.InputStream;
import java.math.BigDecimal;
import java.security.DigestInputStream;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.StringJoiner;

/** Checks a file against its control totals. */
final class ControlTotals {

  private final LoadRun run;
  private final StagedFile file;
  private final List<ControlFigures> stated = new ArrayList<>();
  private DigestInputStream digest;

  ControlTotals(LoadRun run, StagedFile file) {
    this.run = run;
    this.file = file;
  }

  /** Takes what the reader left of the stored bytes, so that the checksum is that of all. */
  void readToEnd() throws IOException {
    if (digest != null) {
      digest.transferTo(java.io.OutputStream.nullOutputStream());
    }
  }

  /** Opens the stored bytes, with their checksum taken on the way if one is stated. */
  InputStream open() throws IOException {
    InputStream stored = run.depot().open(file);
    Optional<String> sum = run.entry(file.path()).flatMap(Manifest.Entry::sha256);
    if (sum.isEmpty()) {
      return stored;
    }
    digest = new DigestInputStream(stored, Checksums.sha256());
    return digest;
  }

  /** Whether a checksum of the stored bytes is taken, which asks for them in their order. */
  boolean digests() {
    return digest != null;
  }

  /** Collects what manifest and control file state; a trailer speaks at its own time. */
  void collect(FileFacts facts) throws IOException {
    Optional<Manifest.Entry> entry = run.entry(file.path());
    entry.map(Manifest.Entry::figures).ifPresent(stated::add);
    if (entry.isPresent()
        && entry.get().size().isPresent()
        && entry.get().size().get() != file.size()) {
      throw Failure.file(file.path() + " has another size than the manifest says")
          .because(
              "the manifest says %,d bytes, the depot has %,d"
                  .formatted(entry.get().size().get(), file.size()))
          .hint("It may be incomplete or replaced. Nothing was loaded");
    }
    Optional<String> sidecar = run.feed().policies().expectations().sidecar();
    if (sidecar.isPresent()) {
      stated.add(sidecar(fill(sidecar.get(), facts)));
    }
  }

  private static String fill(String template, FileFacts facts) {
    String path = template;
    for (Map.Entry<String, String> fact : facts.values().entrySet()) {
      path = path.replace("{" + fact.getKey() + "}", fact.getValue());
    }
    return path;
  }

  private ControlFigures sidecar(String path) throws IOException {
    Depot depot = run.depot();
    StagedFile beside =
        depot
            .look(path)
            .orElseThrow(
                () ->
                    Failure.file(file.path() + " needs its control file")
                        .because("there is no %s in depot %s".formatted(path, depot.name()))
                        .hint("Load again once it is there. Nothing was loaded"));
    if (beside.size() > FiguresJson.MOST_BYTES) {
      throw Failure.file("control file " + path + " is too large")
          .because("it has %,d bytes".formatted(beside.size()));
    }
    try (InputStream in = depot.open(beside)) {
      return FiguresJson.sidecar(path, in.readAllBytes());
    }
  }

  /** Adds what the trailer states. */
  void add(ControlFigures figures) {
    stated.add(figures);
  }

  /** Everything that is stated. */
  List<ControlFigures> stated() {
    return stated;
  }

  /** The stated number of records, from any source. */
  Optional<Long> expectedRows() {
    return stated.stream().flatMap(figures -> figures.rows().stream()).findFirst();
  }

  /** The figures that disagree with the file, with both numbers; empty if all agree. */
  Optional<String> mismatch(long read, List<ControlTotal> totals) {
    StringJoiner wrong = new StringJoiner("; ");
    checksum().ifPresent(wrong::add);
    for (ControlFigures figures : stated) {
      if (figures.rows().isPresent() && figures.rows().get() != read) {
        wrong.add(
            "%s says %,d rows, the file has %,d"
                .formatted(figures.source(), figures.rows().get(), read));
      }
      for (Map.Entry<String, BigDecimal> sum : figures.totals().entrySet()) {
        totals.stream()
            .filter(total -> total.column().equals(sum.getKey()))
            .filter(total -> total.all().compareTo(sum.getValue()) != 0)
            .forEach(total -> wrong.add(mismatch(figures.source(), sum.getValue(), total)));
        if (totals.stream().noneMatch(total -> total.column().equals(sum.getKey()))) {
          wrong.add(
              "%s states a sum of %s, which is not among the feed's totals"
                  .formatted(figures.source(), sum.getKey()));
        }
      }
    }
    return wrong.length() == 0
        ? Optional.empty()
        : Optional.of("its control totals do not agree: " + wrong + "; nothing of it was loaded");
  }

  private static String mismatch(String source, BigDecimal stated, ControlTotal total) {
    String others =
        total.others().signum() == 0
            ? ""
            : ", of which %s in rows that would not be loaded".formatted(plain(total.others()));
    return "%s says %s = %s, the file has %s%s (%s off)"
        .formatted(
            source,
            total.column(),
            plain(stated),
            plain(total.all()),
            others,
            plain(total.all().subtract(stated)));
  }

  private static String plain(BigDecimal number) {
    return String.format(java.util.Locale.ROOT, "%,." + Math.max(0, number.scale()) + "f", number);
  }

  private Optional<String> checksum() {
    if (digest == null) {
      return Optional.empty();
    }
    String found = HexFormat.of().formatHex(digest.getMessageDigest().digest());
    String wanted = run.entry(file.path()).flatMap(Manifest.Entry::sha256).orElseThrow();
    return found.equals(wanted)
        ? Optional.empty()
        : Optional.of(
            "the manifest says SHA-256 %s, the stored bytes have %s".formatted(wanted, found));
  }
}
