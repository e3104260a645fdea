package dev.dusky.formats;

import com.fasterxml.aalto.stax.InputFactoryImpl;
import dev.dusky.core.bytes.ReplayStream;
import dev.dusky.core.bytes.StorageException;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.LibraryWords;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.RecordAppender;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordFault;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.reject.RejectCode;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import org.codehaus.stax2.XMLInputFactory2;
import org.codehaus.stax2.XMLStreamReader2;

/**
 * Reads elements of an XML document as records, streaming. Fields are paths of child elements with
 * an attribute or text at their end: {@code name}, {@code owner/name}, {@code @id}, {@code
 * owner/@code}, and {@code .} for the record's own text. Names are compared without prefix.
 */
final class XmlReader implements RecordReader {

  private static final int MOST_DEPTH = 200;

  private final String path;
  private final XmlLayout layout;
  private final List<String> names;
  private final List<String[]> paths = new ArrayList<>();
  private final ReplayStream kept;
  private final AttributeGuard guard;
  private final XMLStreamReader2 xml;
  private final RecordAppender appender;
  private final Deque<String> open = new ArrayDeque<>();
  private final StringBuilder[] values;
  private final boolean[] several;
  private boolean anyRecord;

  XmlReader(String path, InputStream content, XmlLayout layout, FieldRequest request)
      throws IOException {
    this.path = path;
    this.layout = layout;
    this.names = request.fields().stream().map(FieldRequest.Field::path).toList();
    for (String name : names) {
      paths.add((name.startsWith("./") ? name.substring(2) : name).split("/"));
    }
    this.values = new StringBuilder[paths.size()];
    this.several = new boolean[paths.size()];
    this.appender = new RecordAppender(layout.recordLimit());
    this.kept = new ReplayStream(content, layout.recordLimit());
    this.guard = new AttributeGuard(path, kept);
    XMLInputFactory2 factory = new InputFactoryImpl();
    factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
    factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
    factory.setProperty(XMLInputFactory.IS_COALESCING, false);
    // Text is checked when it is met, so that what is wrong with it has a place.
    factory.setProperty(XMLInputFactory2.P_LAZY_PARSING, false);
    try {
      this.xml = (XMLStreamReader2) factory.createXMLStreamReader(guard);
    } catch (XMLStreamException e) {
      throw broken(e);
    }
  }

  @Override
  public List<String> names() {
    return names;
  }

  @Override
  public byte[] preamble() {
    String encoding = xml.getCharacterEncodingScheme();
    return encoding == null
        ? new byte[0]
        : "<?xml version=\"1.0\" encoding=\"%s\"?>"
            .formatted(encoding)
            .getBytes(StandardCharsets.US_ASCII);
  }

  @Override
  public boolean read(RecordBatch batch) throws IOException {
    appender.begin(batch);
    try {
      while (!appender.full() && xml.hasNext()) {
        int event = next();
        if (event == XMLStreamConstants.START_ELEMENT) {
          enter();
          if (isRecord()) {
            anyRecord = true;
            record();
            open.pop();
          }
        } else if (event == XMLStreamConstants.END_ELEMENT) {
          open.pop();
        }
      }
    } catch (XMLStreamException e) {
      throw broken(e);
    }
    if (batch.records() == 0 && !anyRecord) {
      throw Failure.file(path + " has no element " + "/" + String.join("/", layout.records()))
          .because("the document was read to its end")
          .hint("Check records in layout " + layout.name());
    }
    return batch.records() > 0;
  }

  private int next() throws XMLStreamException {
    int event = xml.next();
    guard.event();
    if (event == XMLStreamConstants.START_ELEMENT) {
      guard.name(xml.getLocalName());
    }
    return event;
  }

  private void enter() {
    if (open.size() == MOST_DEPTH) {
      throw Failure.file(path + " is nested too deeply")
          .because(
              "at byte %,d elements are nested deeper than %d"
                  .formatted(xml.getLocationInfo().getStartingByteOffset(), MOST_DEPTH));
    }
    open.push(xml.getLocalName());
  }

  private boolean isRecord() {
    List<String> wanted = layout.records();
    if (open.size() != wanted.size()) {
      return false;
    }
    int i = wanted.size() - 1;
    for (String name : open) {
      String step = wanted.get(i--);
      if (!step.equals("*") && !step.equals(name)) {
        return false;
      }
    }
    return true;
  }

  /** Reads one record, from behind its opening tag to behind its closing one. */
  private void record() throws XMLStreamException {
    long from = xml.getLocationInfo().getStartingByteOffset();
    long line = xml.getLocationInfo().getStartLocation().getLineNumber();
    kept.hold(from);
    Arrays.fill(values, null);
    Arrays.fill(several, false);
    Deque<String> inside = new ArrayDeque<>();
    attributes(inside);
    begin(inside);
    int size = 0;
    while (true) {
      int event = next();
      switch (event) {
        case XMLStreamConstants.START_ELEMENT -> {
          if (inside.size() + open.size() == MOST_DEPTH) {
            enter();
          }
          inside.addLast(xml.getLocalName());
          attributes(inside);
          begin(inside);
        }
        case XMLStreamConstants.END_ELEMENT -> {
          if (inside.isEmpty()) {
            finish(from, line);
            return;
          }
          inside.removeLast();
        }
        case XMLStreamConstants.CHARACTERS, XMLStreamConstants.CDATA, XMLStreamConstants.SPACE -> {
          if (size < layout.recordLimit()) {
            String text = xml.getText();
            size += text.length();
            text(inside, text);
          }
        }
        case XMLStreamConstants.ENTITY_REFERENCE ->
            throw Failure.file(path + " refers to an entity that is not expanded")
                .because("&" + xml.getLocalName() + "; at line " + line)
                .hint("Entities other than those of XML itself are off for safety");
        default -> {
          continue;
        }
      }
    }
  }

  private void attributes(Deque<String> inside) {
    for (int a = 0; a < xml.getAttributeCount(); a++) {
      guard.name(xml.getAttributeLocalName(a));
      String name = "@" + xml.getAttributeLocalName(a);
      for (int f = 0; f < paths.size(); f++) {
        String[] wanted = paths.get(f);
        if (wanted[wanted.length - 1].equals(name) && leads(inside, wanted, wanted.length - 1)) {
          add(f, xml.getAttributeValue(a));
        }
      }
    }
  }

  private static boolean leads(Deque<String> inside, String[] wanted, int length) {
    if (inside.size() != length) {
      return false;
    }
    int i = 0;
    for (String name : inside) {
      if (!wanted[i++].equals(name)) {
        return false;
      }
    }
    return true;
  }

  /** An element begins: the fields that are its text begin too. */
  private void begin(Deque<String> inside) {
    for (int f = 0; f < paths.size(); f++) {
      if (isText(inside, paths.get(f))) {
        add(f, "");
      }
    }
  }

  private static boolean isText(Deque<String> inside, String[] wanted) {
    return wanted.length == 1 && wanted[0].equals(".")
        ? inside.isEmpty()
        : leads(inside, wanted, wanted.length);
  }

  private void add(int field, String text) {
    if (values[field] != null) {
      several[field] = true;
    } else {
      values[field] = new StringBuilder(text);
    }
  }

  private void text(Deque<String> inside, String text) {
    for (int f = 0; f < paths.size(); f++) {
      if (isText(inside, paths.get(f)) && values[f] != null && !several[f]) {
        values[f].append(text);
      }
    }
  }

  private void finish(long from, long line) throws XMLStreamException {
    long to = xml.getLocationInfo().getEndingByteOffset();
    if (kept.cut()) {
      appender.recordCut(kept.head());
    } else {
      appender.record(kept.bytes(), kept.at(from), kept.at(to));
    }
    kept.release();
    for (int f = 0; f < values.length; f++) {
      if (several[f]) {
        String message = "the path %s gives several values".formatted(names.get(f));
        appender.fault(line, from, new RecordFault(RejectCode.SEVERAL_VALUES, 0, message));
        return;
      }
    }
    for (StringBuilder value : values) {
      if (value == null) {
        appender.nothing();
      } else {
        appender.field(layout.trim() ? value.toString().strip() : value.toString());
      }
    }
    appender.end(line, from);
  }

  private RuntimeException broken(XMLStreamException e) throws IOException {
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      if (cause instanceof StorageException storage) {
        throw storage;
      }
    }
    String where =
        e.getLocation() == null
            ? ""
            : "at line %d, column %d: "
                .formatted(e.getLocation().getLineNumber(), e.getLocation().getColumnNumber());
    List<String> way = new ArrayList<>(open);
    java.util.Collections.reverse(way);
    return Failure.file(path + " is not well-formed XML")
        .because(
            where
                + LibraryWords.of(e)
                + (way.isEmpty() ? "" : ", inside /" + String.join("/", way)))
        .hint("Nothing of it was loaded. Stage the file again, or ask the sender for a whole one")
        .from(e);
  }

  @Override
  public void close() throws IOException {
    try {
      xml.closeCompletely();
    } catch (XMLStreamException e) {
      throw new IOException(e);
    }
    kept.close();
  }
}
