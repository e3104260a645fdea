package dev.dusky.cli.demo;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.Random;
import java.util.regex.Matcher;

/** A file too large to load at once is cut, and records that come one by one become files. */
final class LargeAndStreamed {

  private static final int READINGS = 60_000;
  private static final int SCALES = 2_500;

  private final DemoFolder folder;
  private final Narration story;
  private final Random random = new Random(31);

  LargeAndStreamed(DemoFolder folder, Narration story) {
    this.folder = folder;
    this.story = story;
  }

  void tell() throws IOException {
    prepare();
    story.step("A year of tank readings comes as one file. Cut it between records, compressed,");
    story.say("with a manifest of the parts' rows and sums.");
    story.dusky(
        "stage",
        "yard",
        "readings-2025.csv",
        "--under",
        "readings",
        "--split",
        "1MB",
        "--compress",
        "zstd",
        "--manifest",
        "readings/2025.json");
    story.say("Ask it with SQL before anything of it is loaded.");
    story.dusky(
        "sql",
        "--staged",
        "select tank, count(*) as readings, max(litres) as most from readings"
            + " where remark is not null group by tank order by tank limit 3");
    story.dusky("load", "readings", "--manifest", "yard:readings/2025.json");
    story.step("The weighbridge sends a record for each tanker. A stream becomes files of good");
    story.say("size, none of them with a cut record.");
    story.piped(
        folder.root().resolve("scales.jsonl"),
        "stage",
        "yard",
        "-",
        "--as",
        "scales/{date}/{n}.jsonl.zst",
        "--roll",
        "64MB,60s");
    story.dusky("load", "scales");
    story.dusky("balance", "readings", "scales");
    story.step("The weighbridge should send each day. The days before were expected too.");
    story.dusky("files", "scales", "--missing");
  }

  private void prepare() throws IOException {
    try (InputStream in = LargeAndStreamed.class.getResourceAsStream("streams.yaml")) {
      String feeds = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      String yaml = Files.readString(folder.configuration());
      Files.writeString(
          folder.configuration(),
          yaml.replaceFirst(
              "(?m)^feeds:\\n",
              Matcher.quoteReplacement(
                  "feeds:\n"
                      + feeds.replace(
                          "FIRST_DAY", LocalDate.now(ZoneOffset.UTC).minusDays(3).toString())
                      + "\n")));
    }
    Path root = folder.root();
    Files.writeString(root.resolve("readings-2025.csv"), readings());
    Files.writeString(root.resolve("scales.jsonl"), scales());
  }

  private String readings() {
    StringBuilder text = new StringBuilder("tank,read_at,litres,remark\n");
    LocalDateTime at = LocalDateTime.of(2025, 1, 1, 0, 5);
    for (int i = 0; i < READINGS; i++) {
      String remark = random.nextInt(40) == 0 ? "\"stirred,\nread again\"" : "";
      text.append(
          "T%d,%s:00,%d.%d,%s\n"
              .formatted(
                  i % 12 + 1,
                  at.plusMinutes(i / 12 * 105L),
                  random.nextInt(24_000),
                  i % 10,
                  remark));
    }
    return text.toString();
  }

  private String scales() {
    StringBuilder text = new StringBuilder();
    for (int i = 1; i <= SCALES; i++) {
      text.append(
          "{\"number\":%d,\"tanker\":\"K%02d\",\"kilos\":%d}\n"
              .formatted(i, random.nextInt(24) + 1, 9_000 + random.nextInt(17_000)));
    }
    return text.toString();
  }
}
