package dev.dusky.cli.demo;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.regex.Matcher;

/** The demo's third act: landed rows become a dimension with history and facts, a day late. */
final class TrustedTables {

  private final DemoFolder folder;
  private final Narration story;

  TrustedTables(DemoFolder folder, Narration story) {
    this.folder = folder;
    this.story = story;
  }

  void tell() throws IOException {
    prepare();
    story.step("Two days of dockets, registry and laboratory; the tenth comes first. Some dockets");
    story.say("are there twice, some are corrected later: rows that repeat stay out.");
    story.dusky("stage", "yard", "days/tenth");
    story.dusky("load", "registry", "dockets", "results");
    story.step("Merge what landed: farms with their history, then what refers to them. A docket");
    story.say("names a farm that the registry does not know.");
    story.leaving("merge");
    story.step("The ninth arrives a day late. What would it change among the farms?");
    story.dusky("stage", "yard", "days/ninth");
    story.dusky("load", "registry", "dockets", "results");
    story.dusky("merge", "farm", "--rehearse", "--changes", "3");
    story.step("Late versions find their place in the chain, and the rejected dockets their farm.");
    story.dusky("merge");
    story.dusky("merge", "collection", "--retry");
    story.step("Merge again: there is nothing left to do.");
    story.dusky("merge");
    story.step("A farm through time, and each docket with the farm as it was.");
    story.dusky(
        "sql",
        "select f.farm_code, f.name, f.valid_from, f.valid_to, f.is_current,"
            + " count(c.docket_no) as dockets, sum(c.litres) as litres from dairy.farm f"
            + " left join dairy.collection c on c.farm_id = f.farm_id"
            + " where f.farm_code in ('WF0007', 'WF0012') group by f.farm_id, f.farm_code, f.name,"
            + " f.valid_from, f.valid_to, f.is_current order by f.farm_code, f.valid_from");
    story.step("One history of loads and merges.");
    story.dusky("journal", "-n", "11");
    story.step("The proof: every litre in the files is in the fact, or it is told where it went.");
    story.dusky("balance", "dockets", "farm", "collection", "assay");
  }

  private void prepare() throws IOException {
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
