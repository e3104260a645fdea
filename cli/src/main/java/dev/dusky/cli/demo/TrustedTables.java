package dev.dusky.cli.demo;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.regex.Matcher;

/** Landed rows are merged into a dimension with history and its facts; one day arrives late. */
final class TrustedTables {

  private final DemoFolder folder;
  private final Narration story;

  TrustedTables(DemoFolder folder, Narration story) {
    this.folder = folder;
    this.story = story;
  }

  void tell() throws IOException {
    prepare();
    story.step(
        "Two days of dockets, registry and laboratory; the tenth arrives first. Some dockets");
    story.say("occur twice, some are corrected later: repeated rows are removed.");
    story.dusky("stage", "yard", "days/tenth");
    story.dusky("load", "registry", "dockets", "results");
    story.step(
        "Merge the landed rows: farms with history, then the tables that refer to them. A docket");
    story.say("names a farm that is not in the registry.");
    story.leaving("merge");
    story.step("The ninth arrives a day late. What would it change?");
    story.dusky("stage", "yard", "days/ninth");
    story.dusky("load", "registry", "dockets", "results");
    story.dusky("merge", "farm", "--rehearse", "--changes", "3");
    story.step(
        "Late versions are inserted into the history, and the rejected docket finds its farm.");
    story.dusky("merge");
    story.dusky("merge", "collection", "--retry");
    story.step("Merge again: nothing is left to do.");
    story.dusky("merge");
    story.step("The versions of a farm, and each docket with the version of its time.");
    story.dusky(
        "sql",
        "select f.farm_code, f.name, f.valid_from, f.valid_to, f.is_current,"
            + " count(c.docket_no) as dockets, sum(c.litres) as litres from dairy.farm f"
            + " left join dairy.collection c on c.farm_id = f.farm_id"
            + " where f.farm_code in ('WF0007', 'WF0012') group by f.farm_id, f.farm_code, f.name,"
            + " f.valid_from, f.valid_to, f.is_current order by f.farm_code, f.valid_from");
    story.step("One history of loads and merges.");
    story.dusky("journal", "-n", "11");
    story.step(
        "The proof: every litre in the files is in the fact table, or counted as rejected or removed.");
    story.dusky("balance", "dockets", "farm", "collection", "assay");
  }

  /** Writes the days' files, and adds feeds and merges to the configuration. */
  void prepare() throws IOException {
    new WrenfoldDays().write(folder.root().resolve("days"));
    try (InputStream in = TrustedTables.class.getResourceAsStream("merges.yaml")) {
      String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      int merges = text.indexOf("merges:\n");
      String yaml = Files.readString(folder.configuration());
      String feeds = "feeds:\n" + text.substring(0, merges);
      Files.writeString(
          folder.configuration(),
          yaml.replaceFirst("(?m)^feeds:\\n", Matcher.quoteReplacement(feeds))
              + "\n"
              + text.substring(merges));
    }
  }
}
