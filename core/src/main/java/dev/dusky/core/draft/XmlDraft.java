package dev.dusky.core.draft;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.LibraryWords;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.table.SqlNames;
import java.io.ByteArrayInputStream;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/** Drafts XML: the element that repeats is the record. */
final class XmlDraft {

  private final FileSample sample;

  XmlDraft(List<FileSample> samples) {
    this.sample = samples.get(0);
  }

  /** Called for every value: the element's path, the field below it ({@code @x} or empty), text. */
  private interface Visitor {
    void value(String path, String attribute, String text);
  }

  private void walk(Visitor visitor) {
    XMLInputFactory factory = XMLInputFactory.newDefaultFactory();
    factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
    factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
    Deque<String> paths = new ArrayDeque<>();
    Deque<StringBuilder> texts = new ArrayDeque<>();
    try {
      XMLStreamReader xml = factory.createXMLStreamReader(new ByteArrayInputStream(sample.head()));
      while (xml.hasNext()) {
        int event = xml.next();
        if (event == XMLStreamConstants.START_ELEMENT) {
          paths.push((paths.isEmpty() ? "" : paths.peek()) + "/" + xml.getLocalName());
          texts.push(new StringBuilder());
          for (int i = 0; i < xml.getAttributeCount(); i++) {
            visitor.value(
                paths.peek(), "@" + xml.getAttributeLocalName(i), xml.getAttributeValue(i));
          }
        } else if (event == XMLStreamConstants.END_ELEMENT) {
          visitor.value(paths.pop(), "", texts.pop().toString().strip());
        } else if (event == XMLStreamConstants.CHARACTERS && !texts.isEmpty()) {
          texts.peek().append(xml.getText());
        }
      }
    } catch (XMLStreamException e) {
      if (sample.whole()) {
        throw Failure.file(sample.file().path() + " is not well-formed XML")
            .because(LibraryWords.of(e))
            .from(e);
      }
      // the sample holds the beginning of the document only
    }
  }

  TableDraft table(String name, List<Evidence> common) {
    return table(name, common, null);
  }

  /** With the path of the records if it is known. */
  TableDraft table(String name, List<Evidence> common, String known) {
    Map<String, Integer> counts = new LinkedHashMap<>();
    Map<String, Integer> filled = new LinkedHashMap<>();
    Map<String, Integer> told = new LinkedHashMap<>();
    walk(
        (path, attribute, text) -> {
          if (attribute.isEmpty()) {
            counts.merge(path, 1, Integer::sum);
          }
          String parent = path.substring(0, path.lastIndexOf('/'));
          filled.merge(attribute.isEmpty() ? parent : path, 1, Integer::sum);
          if (!text.isEmpty()) {
            told.merge(attribute.isEmpty() ? path : path + "/" + attribute, 1, Integer::sum);
          }
        });
    String record =
        known != null && counts.containsKey(known)
            ? known
            : counts.entrySet().stream()
                .filter(e -> e.getValue() > 1 && filled.getOrDefault(e.getKey(), 0) > 1)
                .min(
                    java.util.Comparator.<Map.Entry<String, Integer>>comparingInt(
                            e -> e.getKey().split("/").length)
                        .thenComparing(e -> -e.getValue()))
                .map(Map.Entry::getKey)
                .orElseThrow(
                    () ->
                        Failure.file(sample.file().path() + " has no element that repeats")
                            .hint(
                                "Write the layout by hand: kind: xml and records: /root/element"));
    int records = counts.get(record);
    Map<String, List<String>> fields = new LinkedHashMap<>();
    walk(
        (path, attribute, text) -> {
          if (path.equals(record) || path.startsWith(record + "/")) {
            String inside = path.substring(Math.min(path.length(), record.length() + 1));
            String field =
                inside.isEmpty()
                    ? attribute.isEmpty() ? "." : attribute
                    : attribute.isEmpty() ? inside : inside + "/" + attribute;
            fields.computeIfAbsent(field, f -> new ArrayList<>()).add(text);
          }
        });
    fields.values().forEach(values -> values.removeIf(String::isEmpty));
    fields.entrySet().removeIf(e -> e.getValue().isEmpty());
    List<String> left = new ArrayList<>();
    fields.entrySet().removeIf(e -> e.getValue().size() > records && left.add(e.getKey()));
    List<Evidence> evidence = new ArrayList<>(common);
    evidence.add(new Evidence("kind", "xml", "it begins with a tag", false));
    evidence.add(
        new Evidence(
            "records",
            record,
            "the first element that repeats, %,d times".formatted(records),
            false));
    List<String> beside =
        told.entrySet().stream()
            .filter(e -> !e.getKey().equals(record) && !e.getKey().startsWith(record + "/"))
            .map(e -> e.getKey() + (e.getValue() > 1 ? " (%,d)".formatted(e.getValue()) : ""))
            .toList();
    if (!beside.isEmpty()) {
      evidence.add(
          new Evidence(
              "beside", Evidence.some(beside), "not read: a feed reads one kind of element", true));
    }
    List<String> given = List.copyOf(fields.keySet());
    List<String> names = SqlNames.of(given.stream().map(f -> f.equals(".") ? "text" : f).toList());
    List<ColumnDraft> columns = new ArrayList<>();
    for (int i = 0; i < given.size(); i++) {
      List<String> values = fields.get(given.get(i));
      FieldSource from =
          given.get(i).equals(names.get(i))
              ? new FieldSource.Next()
              : new FieldSource.Named(given.get(i));
      columns.add(
          ColumnDraft.of(
              names.get(i), from, ColumnGuess.of(values, Optional.empty()), values, records));
    }
    XmlLayout layout =
        new XmlLayout(
            name,
            Arrays.stream(record.split("/")).filter(s -> !s.isEmpty()).toList(),
            true,
            List.of(""),
            DelimitedLayout.DEFAULT_RECORD_LIMIT);
    return new TableDraft(name, layout, columns, List.of(), evidence, Optional.empty(), left);
  }
}
