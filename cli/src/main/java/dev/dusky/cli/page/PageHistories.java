package dev.dusky.cli.page;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.report.Report;
import dev.dusky.core.balance.Chains;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The histories of the proof as the template takes them. */
final class PageHistories {

  private static final int MOST_LENGTHS = 8;

  private PageHistories() {}

  /** The histories, each with its keys by the number of their versions. */
  static List<Map<String, Object>> rows(Report.Proof proof) {
    List<Map<String, Object>> rows = new ArrayList<>();
    proof.chains().entrySet().stream()
        .sorted(Map.Entry.comparingByKey())
        .forEach(
            entry -> {
              Chains chains = entry.getValue();
              Map<String, Object> row = new LinkedHashMap<>();
              row.put("name", entry.getKey());
              row.put("keys", Figures.count(chains.keys()));
              row.put("versions", Figures.count(chains.versions()));
              row.put("open", Figures.count(chains.open()));
              row.put("longest", Figures.count(chains.longest()));
              row.put("lengths", lengths(chains));
              rows.add(row);
            });
    return rows;
  }

  private static List<Map<String, Object>> lengths(Chains chains) {
    List<Map<String, Object>> rows = new ArrayList<>();
    List<Chains.Length> lengths = chains.lengths();
    long most = lengths.stream().mapToLong(Chains.Length::keys).max().orElse(1);
    for (int i = 0; i < Math.min(MOST_LENGTHS, lengths.size()); i++) {
      boolean rest = i == MOST_LENGTHS - 1 && lengths.size() > MOST_LENGTHS;
      long keys =
          rest
              ? lengths.subList(i, lengths.size()).stream().mapToLong(Chains.Length::keys).sum()
              : lengths.get(i).keys();
      Map<String, Object> row = new LinkedHashMap<>();
      row.put("of", lengths.get(i).versions() + (rest ? " or more" : ""));
      row.put("count", Figures.count(keys));
      row.put("width", Long.toString(Math.max(1, Math.min(100, 100 * keys / most))));
      rows.add(row);
    }
    return rows;
  }
}
