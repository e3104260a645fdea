package dev.dusky.cli.demo;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;

/** A day of files with faults of all kinds: rehearsed, loaded, repaired and settled. */
final class BadDay {

  private static final List<String> FEEDS =
      List.of("deliveries", "weighings", "samples", "inspections", "tariffs");

  private final DemoFolder folder;
  private final Narration story;
  private final WrenfoldFaults faults = new WrenfoldFaults();

  BadDay(DemoFolder folder, Narration story) {
    this.folder = folder;
    this.story = story;
  }

  void tell() throws IOException {
    prepare();
    story.step("A bad day: five files in five layouts with faults of all kinds. Rehearse first;");
    story.say("the table checks keys and constraints, and nothing is written.");
    story.dusky("rehearse", "deliveries");
    story.step("Load them. Good rows are posted, the others are kept as rejects.");
    story.dusky("load", FEEDS.get(0), FEEDS.get(1), FEEDS.get(2), FEEDS.get(3), FEEDS.get(4));
    story.step("What is wrong with the rejected samples, and which remedies are there?");
    story.dusky("rejects", "samples");
    story.step("Write the rejects out for repair, each feed in its own layout.");
    for (String feed : FEEDS) {
      story.dusky("rejects", "export", feed, "--to", "repair/" + feed);
    }
    story.say("One reject, as in its file:");
    story.dusky("rejects", "show", number(exported("deliveries"), "8l2.5"));
    story.step("Correct the files in an editor, then mend them.");
    for (String feed : FEEDS) {
      int made = faults.correct(feed, exported(feed));
      story.say("(%d corrections in %s)".formatted(made, exported(feed).getFileName()));
      String file = "repair/" + exported(feed).getFileName();
      if (feed.equals("inspections")) {
        story.dusky("mend", file);
      } else {
        story.leaving("mend", file);
      }
    }
    settle();
    story.step("Every reject is accounted for.");
    story.dusky("balance", FEEDS.get(0), FEEDS.get(1), FEEDS.get(2), FEEDS.get(3), FEEDS.get(4));
    story.step("Reverse exactly one file, and load it again.");
    story.dusky("reverse", "inspections/2026-03-04.xml", "--reason", "wrong inspector");
    story.dusky("load", "inspections");
    story.dusky("journal", "inspections");
  }

  private void settle() throws IOException {
    story.step(
        "A farm was not registered yet, and remarks need a wider column: change the tables and");
    story.say("the feed, and read the open rejects again unchanged.");
    story.dusky("sql", "insert into dairy.supplier values ('WF0009')");
    story.dusky("sql", "alter table dairy.delivery alter column remark set data type varchar(60)");
    String yaml = Files.readString(folder.configuration());
    Files.writeString(
        folder.configuration(),
        yaml.replace("remark:       varchar(40)", "remark:       varchar(60)"));
    story.leaving("mend", "--retry", "deliveries");
    story.step("Waive rejects that cannot be repaired, with a reason.");
    story.dusky("rejects", "waive", "deliveries", "--code", "key-taken", "--reason", "repeats");
    story.dusky(
        "rejects",
        "waive",
        "deliveries",
        "--column",
        "temperature",
        "--reason",
        "frozen, poured away");
    story.dusky(
        "rejects",
        "waive",
        "deliveries",
        "--code",
        "null-value",
        "--reason",
        "no farm to be found");
    story.dusky("rejects", "waive", "weighings", "--code", "too-few-fields", "--reason", "cut off");
    story.dusky("rejects", "waive", "samples", "--column", "id", "--reason", "no label");
    story.dusky("rejects", "waive", "tariffs", "--column", "product", "--reason", "empty line");
  }

  /** Tables with their own rules, the feeds, and the files in the depot. */
  private void prepare() throws IOException {
    story.step("A table with rules: keys, references and checks.");
    story.dusky("sql", "create schema dairy");
    story.dusky("sql", "create table dairy.supplier (code varchar(6) primary key)");
    story.dusky("sql", "insert into dairy.supplier values ('WF0001'), ('WF0002'), ('WF0003')");
    story.dusky("sql", TABLE);
    try (InputStream in = BadDay.class.getResourceAsStream("faults.yaml")) {
      String feeds = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      String yaml = Files.readString(folder.configuration());
      Files.writeString(
          folder.configuration(),
          yaml.replaceFirst("(?m)^feeds:\\n", "feeds:\n" + Matcher.quoteReplacement(feeds + "\n")));
    }
    faults.write(folder.root().resolve("bad-day"));
    story.dusky("stage", "yard", "bad-day");
  }

  /** The landing table of the deliveries. */
  static final String TABLE =
      "create table dairy.delivery (docket_no bigint primary key,"
          + " farm_code varchar(6) not null references dairy.supplier, collected_at timestamp,"
          + " litres decimal(9,1), temperature decimal(4,1) constraint not_frozen"
          + " check (temperature > -5), organic boolean, remark varchar(40),"
          + " dusky_load bigint not null, dusky_file bigint not null, dusky_row bigint not null)";

  private Path exported(String feed) throws IOException {
    try (var files = Files.list(folder.root().resolve("repair"))) {
      return files
          .filter(f -> f.getFileName().toString().startsWith(feed + "."))
          .filter(f -> !f.getFileName().toString().contains("reasons"))
          .findFirst()
          .orElseThrow();
    }
  }

  /** The number of the exported reject whose record has that text. */
  private static String number(Path exported, String text) throws IOException {
    return Files.readAllLines(exported, StandardCharsets.ISO_8859_1).stream()
        .filter(line -> line.contains(text))
        .map(line -> line.substring(0, line.indexOf(';')))
        .findFirst()
        .orElseThrow();
  }
}
