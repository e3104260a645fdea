package dev.dusky.cli.render;

import dev.dusky.app.figures.Figures;
import dev.dusky.app.preview.PeekFile.Peeked;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.preview.Preview;
import dev.dusky.core.preview.PreviewMode;
import dev.dusky.core.preview.PreviewRecord;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Shows records of a file. */
public final class PeekReport {

  private final Screen screen;
  private final Style style;
  private final Optional<String> columns;

  /**
   * A report on that screen.
   *
   * @param columns the columns to show, separated by commas; all if empty
   */
  public PeekReport(Screen screen, Optional<String> columns) {
    this.screen = screen;
    this.style = screen.style();
    this.columns = columns;
  }

  /** Shows the bytes of a file. */
  public void raw(StagedFile file, FileContent content, int most) throws IOException {
    head(file, content.compression().label(), "raw");
    new RawView(screen).show(content, most);
  }

  /** Shows records, or how many there are. */
  public void records(Peeked peeked, PreviewMode mode) {
    Preview preview = peeked.preview();
    head(
        peeked.file(),
        preview.compression().label(),
        peeked.declared()
            ? "layout " + peeked.layout().name()
            : "read as " + peeked.layout().kind());
    if (mode == PreviewMode.COUNT) {
      count(preview);
      return;
    }
    int[] chosen = chosen(preview.columns());
    List<String> names = pick(preview.columns(), chosen);
    List<String> types =
        pick(preview.types(), chosen).stream().map(type -> type.replace(" not null", "")).toList();
    List<List<String>> rows = new ArrayList<>();
    List<String> numbers = new ArrayList<>();
    for (PreviewRecord record : preview.records()) {
      rows.add(pick(record.values(), chosen));
      numbers.add(record.number() > 0 ? Figures.count(record.number()) : "");
      screen.object(json(record, names, pick(record.values(), chosen)));
    }
    new PeekTable(screen).print(names, types, numbers, rows);
    remarks(preview);
  }

  private int[] chosen(List<String> names) {
    if (columns.isEmpty()) {
      int[] all = new int[names.size()];
      Arrays.setAll(all, i -> i);
      return all;
    }
    return Arrays.stream(columns.get().split(","))
        .map(String::strip)
        .mapToInt(
            wanted -> {
              for (int i = 0; i < names.size(); i++) {
                if (names.get(i).equalsIgnoreCase(wanted)) {
                  return i;
                }
              }
              throw Failure.usage("There is no column '" + wanted + "'")
                  .because("the file has " + String.join(", ", names));
            })
        .toArray();
  }

  private static List<String> pick(List<String> all, int[] chosen) {
    return Arrays.stream(chosen).mapToObj(i -> i < all.size() ? all.get(i) : null).toList();
  }

  private void head(StagedFile file, String compression, String layout) {
    screen.line(
        style.strong(file.path())
            + style.faint(
                "  %s, %s%s"
                    .formatted(
                        layout,
                        Figures.bytes(file.size()),
                        compression.equals("none") ? "" : ", " + compression)));
  }

  private void count(Preview preview) {
    screen.line(
        "%s: %s would be loaded, %s rejected%s"
            .formatted(
                Figures.plural(preview.read(), "record"),
                Figures.count(preview.read() - preview.rejected() - preview.filtered()),
                Figures.count(preview.rejected()),
                preview.filtered() == 0
                    ? ""
                    : ", " + Figures.count(preview.filtered()) + " left out by the condition"));
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("read", preview.read());
    fields.put("rejected", preview.rejected());
    fields.put("filtered", preview.filtered());
    screen.object(fields);
  }

  private void remarks(Preview preview) {
    preview
        .refusal()
        .ifPresent(why -> screen.remark(style.notable("a load would refuse it: ") + why));
    for (PreviewRecord record : preview.records()) {
      if (!record.problems().isEmpty()) {
        screen.line(
            style.bad("record %d (%s) would be rejected".formatted(record.number(), record.place()))
                + ": "
                + String.join("; ", record.problems()));
      }
    }
  }

  private static Map<String, Object> json(
      PreviewRecord record, List<String> names, List<String> values) {
    Map<String, Object> shown = new LinkedHashMap<>();
    for (int i = 0; i < names.size(); i++) {
      shown.put(names.get(i), values.get(i));
    }
    Map<String, Object> fields = new LinkedHashMap<>();
    fields.put("record", record.number());
    fields.put("place", record.place());
    fields.put("values", shown);
    if (!record.problems().isEmpty()) {
      fields.put("problems", record.problems());
    }
    return fields;
  }
}
