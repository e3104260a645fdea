package dev.dusky.core.record;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.JsonForm;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.reject.RejectCode;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Reads single records again from the raw bytes that their rejects keep, each by itself, as their
 * layout reads them.
 */
public final class RecordReparser {

  private static final Pattern PREFIX = Pattern.compile("[</\\s]([A-Za-z_][\\w.-]*):[A-Za-z_]");

  private final Layout layout;
  private final byte[] preamble;
  private final FieldRequest request;
  private List<String> names = List.of();

  /**
   * For the records of one file.
   *
   * @param preamble what the file's reader said must precede each ({@link RecordReader#preamble})
   */
  public RecordReparser(Layout layout, byte[] preamble, FieldRequest request) {
    this.layout = single(layout);
    this.preamble = preamble;
    this.request = request;
  }

  /** The layout of a single record. */
  private static Layout single(Layout layout) {
    if (layout instanceof DelimitedLayout l) {
      return l.alone();
    }
    if (layout instanceof FixedLayout l) {
      return new FixedLayout(
          l.name(),
          l.fields(),
          l.recordLength(),
          l.kinds(),
          0,
          l.shortRecords(),
          l.encoding(),
          l.nulls(),
          l.recordLimit());
    }
    if (layout instanceof JsonLayout l) {
      return new JsonLayout(
          l.name(),
          JsonForm.LINES,
          Optional.empty(),
          l.rows(),
          l.emptyRows(),
          l.carry(),
          l.encoding(),
          l.nulls(),
          l.recordLimit());
    }
    return layout;
  }

  /** The column names, where the file gives them; known once a record was read. */
  public List<String> names() {
    return names;
  }

  /** How the fields of the batches are written. */
  public Layout layout() {
    return layout;
  }

  /**
   * Reads a record.
   *
   * @param raw its bytes as in the file
   * @param context the values carried onto it, or no bytes
   * @return the rows that it gives, split into fields; what is wrong with it is a fault in there
   */
  public RecordBatch read(byte[] raw, byte[] context) {
    try {
      return switch (layout.kind()) {
        case "delimited", "fixed" -> open(raw, new byte[0]);
        case "json" -> open(oneLine(raw), context);
        case "xml" -> element(raw);
        default -> values(raw);
      };
    } catch (IOException e) {
      throw new UncheckedIOException("bytes in memory cannot be read", e);
    }
  }

  private RecordBatch open(byte[] content, byte[] context) throws IOException {
    RecordBatch batch = new RecordBatch(content.length + 64);
    byte[] all = concat(preamble, content);
    try (RecordReader reader =
        Readers.open(SourceFile.of("the record", new ByteArrayInputStream(all)), layout, request)) {
      names = reader.names();
      if (!reader.read(batch)) {
        return faulty(content, RejectCode.TOO_FEW_FIELDS, "there is nothing in it");
      }
      if (context.length > 0) {
        batch.carried(carried(context));
      }
      return reader.splitter().split(batch);
    } catch (Failure failure) {
      return faulty(content, RejectCode.BROKEN_QUOTE, failure.getMessage());
    }
  }

  private static byte[] concat(byte[] first, byte[] second) {
    byte[] all = Arrays.copyOf(first, first.length + second.length);
    System.arraycopy(second, 0, all, first.length, second.length);
    return all;
  }

  /** Outside strings, where they may not be, line ends mean nothing in JSON. */
  private byte[] oneLine(byte[] raw) {
    boolean wide = preamble.length == 2 || ((JsonLayout) layout).encoding() != Encoding.UTF_8;
    byte[] line = raw.clone();
    for (int i = 0; !wide && i < line.length; i++) {
      if (line[i] == '\n' || line[i] == '\r') {
        line[i] = ' ';
      }
    }
    return line;
  }

  private static byte[][] carried(byte[] context) {
    JsonTree tree = tree(context);
    byte[][] values = new byte[tree.size(0)][];
    int node = 1;
    for (int i = 0; i < values.length; i++) {
      values[i] = Arrays.copyOfRange(context, tree.start(node), tree.end(node));
      node = tree.next(node);
    }
    return values;
  }

  private static JsonTree tree(byte[] text) {
    JsonTree tree = new JsonTree();
    return tree.read(text, 0, text.length) ? tree : null;
  }

  /** Puts the element where it stood: below its parents, its prefixes declared. */
  private RecordBatch element(byte[] raw) throws IOException {
    ByteArrayOutputStream document = new ByteArrayOutputStream();
    List<String> way = ((XmlLayout) layout).records();
    List<String> parents =
        way.subList(0, way.size() - 1).stream().map(p -> p.equals("*") ? "any" : p).toList();
    StringBuilder declarations = new StringBuilder();
    Matcher prefixes = PREFIX.matcher(new String(raw, StandardCharsets.ISO_8859_1));
    for (String prefix : new TreeSet<>(prefixes.results().map(m -> m.group(1)).toList())) {
      if (!prefix.startsWith("xml")) {
        declarations.append(" xmlns:%s=\"urn:%s\"".formatted(prefix, prefix));
      }
    }
    for (int i = 0; i < parents.size(); i++) {
      String tag = "<" + parents.get(i) + (i == 0 ? declarations : "") + ">";
      document.write(tag.getBytes(StandardCharsets.ISO_8859_1));
    }
    document.write(raw);
    for (int i = parents.size() - 1; i >= 0; i--) {
      document.write(("</" + parents.get(i) + ">").getBytes(StandardCharsets.ISO_8859_1));
    }
    return open(document.toByteArray(), new byte[0]);
  }

  /** A row of a typed file or of a workbook, kept as JSON. */
  private RecordBatch values(byte[] raw) {
    JsonTree tree = tree(raw);
    if (tree == null || !tree.isContainer(0)) {
      return faulty(raw, RejectCode.BAD_JSON, "the record is not a JSON object or array");
    }
    RecordBatch batch = new RecordBatch(raw.length + 64);
    RecordAppender appender = new RecordAppender(layout.recordLimit());
    appender.begin(batch);
    appender.record(raw, 0, raw.length);
    boolean workbook = layout.kind().equals("workbook");
    List<String> wanted = request.fields().stream().map(FieldRequest.Field::path).toList();
    if (workbook) {
      names = header();
      wanted = names;
    }
    if (tree.isObject(0)) {
      for (String name : wanted) {
        field(appender, tree, tree.member(0, name.getBytes(StandardCharsets.UTF_8)));
      }
    } else {
      int node = 1;
      for (int i = 0; i < Math.max(tree.size(0), wanted.size()); i++) {
        boolean there = i < tree.size(0);
        field(appender, tree, there ? node : -1);
        node = there ? tree.next(node) : node;
      }
    }
    appender.end(1, 0);
    return batch;
  }

  private List<String> header() {
    JsonTree tree = tree(preamble);
    List<String> header = new ArrayList<>();
    int node = 1;
    for (int i = 0; tree != null && i < tree.size(0); i++) {
      header.add(tree.text(node));
      node = tree.next(node);
    }
    return header;
  }

  private static void field(RecordAppender appender, JsonTree tree, int node) {
    boolean none = node < 0 || tree.kind(node) == JsonTree.Kind.NULL;
    if (none || tree.text(node).isEmpty()) {
      appender.nothing();
    } else {
      appender.field(tree.text(node));
    }
  }

  private RecordBatch faulty(byte[] raw, RejectCode code, String message) {
    RecordBatch batch = new RecordBatch(raw.length + 64);
    RecordAppender appender = new RecordAppender(layout.recordLimit());
    appender.begin(batch);
    appender.record(raw, 0, raw.length);
    RejectCode told =
        layout.kind().equals("delimited") || layout.kind().equals("fixed")
            ? code
            : RejectCode.BAD_JSON;
    appender.fault(1, 0, new RecordFault(told, 0, message));
    return batch;
  }
}
