package dev.dusky.app.figures;

import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.tally.Tally;
import java.util.LinkedHashMap;
import java.util.Map;

/** Tallies as a line of text and as fields of JSON. */
public final class TallyFigures {

  private TallyFigures() {}

  /** {@code read 12 480 = loaded 12 401 + duplicate 62 + rejected 17 + filtered 0}. */
  public static String sum(Tally tally) {
    return "read %s = loaded %s + duplicate %s + rejected %s + filtered %s"
        .formatted(
            Figures.count(tally.read()),
            Figures.count(tally.loaded()),
            Figures.count(tally.duplicate()),
            Figures.count(tally.rejected()),
            Figures.count(tally.filtered()));
  }

  /** The counts of a tally by name. */
  public static Map<String, Object> fields(Tally tally) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("read", tally.read());
    fields.put("loaded", tally.loaded());
    fields.put("duplicate", tally.duplicate());
    fields.put("rejected", tally.rejected());
    fields.put("filtered", tally.filtered());
    fields.put("withheld", tally.withheld());
    fields.put("balanced", tally.balanced());
    return fields;
  }

  /** {@code landed 120 = inserted 60 + updated 30 + …}. */
  public static String sum(MergeTally tally) {
    return "landed %s = inserted %s + updated %s + unchanged %s + superseded %s + deleted %s + rejected %s"
        .formatted(
            Figures.count(tally.landed()),
            Figures.count(tally.inserted()),
            Figures.count(tally.updated()),
            Figures.count(tally.unchanged()),
            Figures.count(tally.superseded()),
            Figures.count(tally.deleted()),
            Figures.count(tally.rejected()));
  }

  /** The counts of a merge's tally by name. */
  public static Map<String, Object> fields(MergeTally tally) {
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("landed", tally.landed());
    fields.put("inserted", tally.inserted());
    fields.put("updated", tally.updated());
    fields.put("unchanged", tally.unchanged());
    fields.put("superseded", tally.superseded());
    fields.put("deleted", tally.deleted());
    fields.put("rejected", tally.rejected());
    fields.put("missing", tally.missing());
    fields.put("balanced", tally.balanced());
    return fields;
  }
}
