package dev.dusky.core.record;

import dev.dusky.core.bytes.Transcoding;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.Encoding;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.HeaderUse;
import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.LineEnd;
import dev.dusky.core.layout.XmlLayout;
import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The form in which raw records leave for repair and come back: in their own layout, each with a
 * number before it. Delimited records get a first field {@value #NUMBER}, fixed ones a number and a
 * bar, XML elements an attribute, JSON objects (and rows of typed files and workbooks, which are
 * kept as JSON) a first member. Numbers so placed survive text editors and spreadsheets, and are
 * found even in records that are otherwise beyond reading.
 */
public final class NumberedRecords {

  /** The name of the number. */
  public static final String NUMBER = "dusky_reject";

  private static final String TEXT = "dusky_record";
  private static final Pattern JSON_NUMBER =
      Pattern.compile("^\\s*\\{\\s*\"" + NUMBER + "\"\\s*:\\s*\"?(\\d{1,18})\"?\\s*(,?)\\s*");
  private static final Pattern XML_NUMBER =
      Pattern.compile("\\s" + NUMBER + "\\s*=\\s*[\"'](\\d{1,18})[\"']");

  private final Layout layout;

  /** For records of that layout. */
  public NumberedRecords(Layout layout) {
    this.layout = layout;
  }

  /** The extension of files in this form. */
  public String extension() {
    return switch (layout.kind()) {
      case "delimited" -> "csv";
      case "fixed" -> "txt";
      case "xml" -> "xml";
      default -> "jsonl";
    };
  }

  // ---- writing

  /** Writes what precedes the first record. */
  public void begin(OutputStream out, byte[] preamble) throws IOException {
    if (layout instanceof DelimitedLayout delimited) {
      int mark = markLength(preamble);
      out.write(preamble, 0, mark);
      if (delimited.header() == HeaderUse.NAMES) {
        out.write(encoded(preamble, NUMBER + delimited.delimiter()));
        out.write(preamble, mark, preamble.length - mark);
      }
    } else if (layout instanceof FixedLayout) {
      out.write(preamble);
    } else if (layout instanceof XmlLayout) {
      out.write(preamble);
      out.write("<rejects>\n".getBytes(StandardCharsets.US_ASCII));
    }
  }

  /** Writes a record with its number. */
  public void write(OutputStream out, byte[] preamble, long number, byte[] raw) throws IOException {
    if (layout instanceof DelimitedLayout delimited) {
      out.write(encoded(preamble, number + delimited.delimiter()));
      out.write(protect(delimited, preamble, raw));
      out.write(encoded(preamble, delimited.lineEnd() == LineEnd.CR ? "\r" : "\n"));
    } else if (layout instanceof FixedLayout) {
      out.write(encoded(preamble, number + "|"));
      out.write(raw);
      out.write(encoded(preamble, "\n"));
    } else if (layout instanceof XmlLayout) {
      String text = new String(raw, StandardCharsets.ISO_8859_1);
      String numbered =
          text.replaceFirst("^(<[^\\s/>]+)", "$1 %s=\"%d\"".formatted(NUMBER, number));
      out.write(numbered.getBytes(StandardCharsets.ISO_8859_1));
      out.write('\n');
    } else {
      out.write(json(number, named(preamble, raw)).getBytes(StandardCharsets.UTF_8));
      out.write('\n');
    }
  }

  private static byte[] protect(DelimitedLayout layout, byte[] preamble, byte[] raw) {
    RecordReparser again = new RecordReparser(layout, preamble, FieldRequest.of(List.of()));
    RecordBatch batch = again.read(raw, new byte[0]);
    if (batch.records() != 1 || batch.rawStart(0) == batch.rawEnd(0)) {
      return raw;
    }
    byte[] safe = FormulaGuard.protect(batch, 0, layout);
    return transcoding(layout.encoding(), preamble).original(safe, 0, safe.length);
  }

  /** A row of a workbook, kept as a list of texts, as an object with the names of its header. */
  private static byte[] named(byte[] preamble, byte[] raw) {
    List<String> names = texts(preamble);
    List<String> values = texts(raw);
    if (names.isEmpty() || values.size() > names.size()) {
      return raw;
    }
    StringBuilder object = new StringBuilder("{");
    for (int i = 0; i < values.size(); i++) {
      object
          .append(i == 0 ? "" : ",")
          .append(JsonStrings.quoted(names.get(i)))
          .append(':')
          .append(JsonStrings.quoted(values.get(i)));
    }
    return object.append('}').toString().getBytes(StandardCharsets.UTF_8);
  }

  /** The strings of a JSON array; none if it is no such array. */
  private static List<String> texts(byte[] json) {
    List<String> texts = new ArrayList<>();
    JsonTree tree = new JsonTree();
    boolean array = tree.read(json, 0, json.length) && tree.kind(0) == JsonTree.Kind.ARRAY;
    for (int node = 1; array && node < tree.next(0); node = tree.next(node)) {
      texts.add(tree.text(node));
    }
    return texts;
  }

  private String json(long number, byte[] raw) {
    String text =
        new String(raw, StandardCharsets.UTF_8).replace('\n', ' ').replace('\r', ' ').strip();
    if (text.startsWith("{")) {
      String rest = text.substring(1).stripLeading();
      return "{\"%s\":%d%s%s".formatted(NUMBER, number, rest.startsWith("}") ? "" : ",", rest);
    }
    return "{\"%s\":%d,\"%s\":%s}".formatted(NUMBER, number, TEXT, JsonStrings.quoted(text));
  }

  /** Writes what follows the last record. */
  public void end(OutputStream out) throws IOException {
    if (layout instanceof XmlLayout) {
      out.write("</rejects>\n".getBytes(StandardCharsets.US_ASCII));
    }
  }

  private byte[] encoded(byte[] preamble, String text) {
    Encoding encoding =
        layout instanceof DelimitedLayout d
            ? d.encoding()
            : layout instanceof FixedLayout f ? f.encoding() : Encoding.UTF_8;
    byte[] utf8 = text.getBytes(StandardCharsets.UTF_8);
    return transcoding(encoding, preamble).original(utf8, 0, utf8.length);
  }

  private static Transcoding transcoding(Encoding declared, byte[] preamble) {
    return switch (markLength(preamble)) {
      case 3 -> Transcoding.of(Encoding.UTF_8);
      case 2 ->
          Transcoding.of((preamble[0] & 0xff) == 0xff ? Encoding.UTF_16LE : Encoding.UTF_16BE);
      default -> Transcoding.of(declared);
    };
  }

  private static int markLength(byte[] b) {
    if (b.length > 2 && (b[0] & 0xff) == 0xef && (b[1] & 0xff) == 0xbb) {
      return 3;
    }
    boolean wide = b.length > 1 && ((b[0] & 0xff) == 0xff || (b[0] & 0xff) == 0xfe);
    return wide && (b[1] & 0xff) >= 0xfe ? 2 : 0;
  }

  // ---- reading

  /** Takes the records as they come back. */
  public interface Taker {

    /**
     * A record.
     *
     * @param number its number, or -1 if it has none
     * @param line the line on which it is
     * @param preamble what must precede its bytes to read them
     * @param raw its bytes without the number
     */
    void take(long number, long line, byte[] preamble, byte[] raw) throws IOException;
  }

  /** Reads a file of numbered records; what is wrong with it as a whole is a failure. */
  public void read(String path, InputStream content, Taker taker) throws IOException {
    if (layout instanceof DelimitedLayout delimited) {
      readDelimited(path, content, delimited, taker);
    } else if (layout instanceof XmlLayout xml) {
      readElements(path, content, xml, taker);
    } else {
      readLines(path, content, taker);
    }
  }

  private void readDelimited(String path, InputStream content, DelimitedLayout layout, Taker taker)
      throws IOException {
    DelimitedLayout plain = layout.alone();
    try (DelimitedReader reader = new DelimitedReader(path, content, plain)) {
      boolean header = plain.header() == HeaderUse.NAMES;
      if (header && (reader.names().isEmpty() || !reader.names().get(0).equals(NUMBER))) {
        String first = reader.names().isEmpty() ? "" : reader.names().get(0);
        throw Failure.file(path + " is not a file of rejects for this layout")
            .because(
                "its first column is '%s', not %s"
                    .formatted(first.length() > 60 ? first.substring(0, 60) : first, NUMBER))
            .hint(
                first.startsWith(NUMBER)
                    ? "It was saved with another delimiter: save it with '%s'"
                        .formatted(layout.delimiter())
                    : "Keep the first column as it was exported");
      }
      byte[] preamble = header ? withoutNumber(reader.preamble(), plain) : reader.preamble();
      Transcoding transcoding = transcoding(plain.encoding(), reader.preamble());
      RecordBatch batch = new RecordBatch(256 << 10);
      while (reader.read(batch)) {
        for (int r = 0; r < batch.records(); r++) {
          byte[] utf8 = FormulaGuard.restore(batch, r, plain);
          String text = new String(utf8, StandardCharsets.ISO_8859_1);
          Matcher number = leading(plain.delimiter()).matcher(text);
          boolean numbered = number.find();
          int from = numbered ? number.end() : 0;
          byte[] rest = Arrays.copyOfRange(utf8, from, utf8.length);
          taker.take(
              numbered ? Long.parseLong(number.group(1)) : -1,
              batch.line(r),
              preamble,
              transcoding.original(rest, 0, rest.length));
        }
      }
    }
  }

  private static Pattern leading(String delimiter) {
    byte[] utf8 = delimiter.getBytes(StandardCharsets.UTF_8);
    String bytes = new String(utf8, StandardCharsets.ISO_8859_1);
    return Pattern.compile("^\\s*\"?(\\d{1,18})\"?\\s*(?:" + Pattern.quote(bytes) + "|$)");
  }

  private static byte[] withoutNumber(byte[] preamble, DelimitedLayout layout) {
    int mark = markLength(preamble);
    byte[] delimiter = layout.delimiter().getBytes(StandardCharsets.UTF_8);
    byte[] end = transcoding(layout.encoding(), preamble).original(delimiter, 0, delimiter.length);
    for (int i = mark; i + end.length <= preamble.length; i++) {
      if (Arrays.equals(preamble, i, i + end.length, end, 0, end.length)) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.write(preamble, 0, mark);
        out.write(preamble, i + end.length, preamble.length - i - end.length);
        return out.toByteArray();
      }
    }
    return Arrays.copyOf(preamble, mark);
  }

  private static void readElements(String path, InputStream content, XmlLayout layout, Taker taker)
      throws IOException {
    XmlLayout plain =
        new XmlLayout(
            layout.name(), List.of("rejects", "*"), false, List.of(), layout.recordLimit());
    FieldRequest request = FieldRequest.of(List.of("@" + NUMBER));
    try (RecordReader reader = Readers.open(SourceFile.of(path, content), plain, request)) {
      RecordBatch batch = new RecordBatch(256 << 10);
      while (reader.read(batch)) {
        for (int r = 0; r < batch.records(); r++) {
          String text = new String(batch.raw(r), StandardCharsets.ISO_8859_1);
          int close = text.indexOf('>') + 1;
          Matcher number = XML_NUMBER.matcher(text.substring(0, close));
          boolean numbered = number.find();
          String tag = numbered ? number.replaceFirst("") : text.substring(0, close);
          taker.take(
              numbered ? Long.parseLong(number.group(1)) : -1,
              batch.line(r),
              reader.preamble(),
              (tag + text.substring(close)).getBytes(StandardCharsets.ISO_8859_1));
        }
      }
    }
  }

  private void readLines(String path, InputStream content, Taker taker) throws IOException {
    boolean fixed = layout instanceof FixedLayout;
    Encoding encoding = fixed ? ((FixedLayout) layout).encoding() : Encoding.UTF_8;
    try (TextRecords text =
        new TextRecords(
            path,
            new BufferedInputStream(content),
            encoding,
            fixed ? "text of fixed width" : "JSON",
            layout.recordLimit())) {
      LineScanner scanner = new LineScanner(text.lineEnd(LineEnd.AUTO), 1, layout.recordLimit());
      RecordBatch batch = new RecordBatch(256 << 10);
      while (text.fill(batch, scanner, TextRecords.MOST_RECORDS)) {
        for (int r = 0; r < batch.records(); r++) {
          if (fixed) {
            takeFixed(batch, r, text, taker);
          } else {
            takeJson(batch, r, taker);
          }
        }
      }
    }
  }

  private static void takeFixed(RecordBatch batch, int r, TextRecords text, Taker taker)
      throws IOException {
    byte[] utf8 = Arrays.copyOfRange(batch.bytes(), batch.rawStart(r), batch.rawEnd(r));
    Matcher number =
        Pattern.compile("^\\s*(\\d{1,18})\\|")
            .matcher(new String(utf8, StandardCharsets.ISO_8859_1));
    boolean numbered = number.find();
    int from = numbered ? number.end() : 0;
    taker.take(
        numbered ? Long.parseLong(number.group(1)) : -1,
        batch.line(r),
        text.mark(),
        text.original(utf8, from, utf8.length));
  }

  private static void takeJson(RecordBatch batch, int r, Taker taker) throws IOException {
    String line = new String(batch.raw(r), StandardCharsets.UTF_8);
    Matcher number = JSON_NUMBER.matcher(line);
    if (!number.find()) {
      taker.take(-1, batch.line(r), new byte[0], batch.raw(r));
      return;
    }
    String rest = "{" + line.substring(number.end());
    byte[] utf8 = rest.getBytes(StandardCharsets.UTF_8);
    JsonTree tree = new JsonTree();
    boolean whole = tree.read(utf8, 0, utf8.length);
    int text =
        whole && tree.size(0) == 1 ? tree.member(0, TEXT.getBytes(StandardCharsets.UTF_8)) : -1;
    taker.take(
        Long.parseLong(number.group(1)),
        batch.line(r),
        new byte[0],
        text < 0 ? utf8 : tree.text(text).getBytes(StandardCharsets.UTF_8));
  }
}
