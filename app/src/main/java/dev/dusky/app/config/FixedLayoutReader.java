package dev.dusky.app.config;

import dev.dusky.core.layout.FixedField;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.RecordKinds;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads a layout of fixed places. */
final class FixedLayoutReader {

  private static final Pattern FROM_TO = Pattern.compile("(\\d{1,6})\\s*-\\s*(\\d{1,6})");
  private static final Map<String, FixedField.Alignment> ALIGN =
      Map.of("left", FixedField.Alignment.LEFT, "right", FixedField.Alignment.RIGHT);

  private final String name;
  private final Section section;
  private final List<FixedField> fields = new ArrayList<>();

  FixedLayoutReader(String name, Section section) {
    this.name = name;
    this.section = section;
  }

  FixedLayout read() {
    Optional<Node> declared = section.node("fields");
    Optional<Node> widths = section.node("widths");
    if (declared.isPresent() == widths.isPresent()) {
      section.problem("fields", "a fixed layout needs either fields or widths");
    }
    declared.ifPresent(node -> fields(section.section("fields", node)));
    widths.ifPresent(node -> widths(section.section("widths", node)));
    Optional<RecordKinds> kinds = section.node("kinds").map(this::kinds);
    for (FixedField field : fields) {
      if (!field.kind().isEmpty() && kinds.isEmpty()) {
        section.problem(
            "fields",
            "field %s is of kind %s, but the layout has no kinds"
                .formatted(field.name(), field.kind()));
      }
    }
    return new FixedLayout(
        name,
        fields,
        section.number("record-length", 1, 1_000_000, 0),
        kinds,
        section.number("skip-lines", 0, 1_000_000, 0),
        section.choice(
            "short-records", LayoutReader.SHORT, dev.dusky.core.layout.ShortRecords.REJECT),
        LayoutReader.encoding(section),
        section.texts("nulls").orElse(List.of("")),
        LayoutReader.recordLimit(section));
  }

  private void fields(Section block) {
    block
        .all()
        .forEach(
            (field, node) -> {
              if (node instanceof Node.Scalar scalar && scalar.text() != null) {
                Matcher fromTo = FROM_TO.matcher(scalar.text().strip());
                if (fromTo.matches()
                    && number(fromTo, 1) >= 1
                    && number(fromTo, 2) >= number(fromTo, 1)) {
                  int start = number(fromTo, 1);
                  add(
                      field,
                      start,
                      number(fromTo, 2) - start + 1,
                      new Section(field, block(node), new ConfigProblems()));
                } else {
                  block.problem(
                      field,
                      "'%s' is not a place: write first-last, such as 4-10"
                          .formatted(scalar.text()));
                }
                return;
              }
              Section one = block.section("field " + field, node);
              one.required("start");
              one.required("length");
              add(
                  field,
                  one.number("start", 1, 1_000_000, 1),
                  one.number("length", 1, 1_000_000, 1),
                  one);
              one.done();
            });
  }

  private static Node.Fields block(Node node) {
    return new Node.Fields(Map.of(), Map.of(), node.line());
  }

  private static int number(Matcher match, int group) {
    return Integer.parseInt(match.group(group));
  }

  private void widths(Section block) {
    int start = 1;
    for (Map.Entry<String, Node> entry : new LinkedHashMap<>(block.all()).entrySet()) {
      int width = block.number(entry.getKey(), 1, 1_000_000, 1);
      add(
          entry.getKey(),
          start,
          width,
          new Section(entry.getKey(), block(entry.getValue()), new ConfigProblems()));
      start += width;
    }
  }

  private void add(String field, int start, int length, Section options) {
    String pad = options.text("pad").orElse(" ");
    if (pad.length() != 1 || pad.charAt(0) >= 0x80) {
      options.problem("pad", "pad must be one ASCII character");
      pad = " ";
    }
    fields.add(
        new FixedField(
            field,
            start,
            length,
            options.choice("align", ALIGN, FixedField.Alignment.LEFT),
            pad.charAt(0),
            options.text("of").orElse("")));
  }

  private RecordKinds kinds(Node node) {
    Section kinds = section.section("kinds", node);
    String at = kinds.required("at");
    Matcher place = Pattern.compile("(\\d{1,6})(?:\\s*-\\s*(\\d{1,6}))?").matcher(at.strip());
    boolean found = place.matches() && number(place, 1) >= 1;
    if (!found && !at.isEmpty()) {
      kinds.problem("at", "'" + at + "' is not a place: write first-last, such as 1-2");
    }
    int start = found ? number(place, 1) : 1;
    int last = found && place.group(2) != null ? number(place, 2) : start;
    if (!kinds.has("rows")) {
      kinds.required("rows");
    }
    RecordKinds result =
        new RecordKinds(
            start,
            Math.max(1, last - start + 1),
            kinds.texts("rows").orElse(List.of()),
            kinds.texts("skip").orElse(List.of()));
    kinds.done();
    return result;
  }
}
