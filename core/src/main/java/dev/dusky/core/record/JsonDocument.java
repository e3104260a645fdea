package dev.dusky.core.record;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonLocation;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.core.exc.StreamConstraintsException;
import dev.dusky.core.bytes.ReplayStream;
import dev.dusky.core.bytes.TextContent;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.json.JsonPath;
import dev.dusky.core.json.JsonPath.Segment;
import dev.dusky.core.layout.JsonLayout;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;

/**
 * Finds the records inside JSON documents with Jackson's streaming parser, in constant memory
 * however large the document. The values to be carried must precede the records.
 */
final class JsonDocument {

  private static final int MOST_DEPTH = 1000;

  /** A path followed so far; number -1 is the records', the others are carried. */
  private record Trail(int number, List<Segment> rest) {}

  /** An object or array that is being gone through. */
  private static final class Level {
    private final boolean array;
    private final List<Trail> trails;
    private String name = "";
    private int index = -1;

    Level(boolean array, List<Trail> trails) {
      this.array = array;
      this.trails = trails;
    }
  }

  private final String path;
  private final JsonLayout layout;
  private final ReplayStream kept;
  private final JsonParser parser;
  private final RecordAppender appender;
  private final List<Trail> start = new ArrayList<>();
  private final Deque<Level> levels = new ArrayDeque<>();
  private final byte[][] carried;
  private boolean changed;
  private boolean recordSeen;

  JsonDocument(String path, InputStream content, JsonLayout layout, String records)
      throws IOException {
    this.path = path;
    this.layout = layout;
    this.appender = new RecordAppender(layout.recordLimit());
    TextContent text = TextContent.open(path, content, layout.encoding(), "JSON");
    this.kept = new ReplayStream(text.utf8(), layout.recordLimit());
    this.parser =
        JsonFactory.builder()
            .streamReadConstraints(
                StreamReadConstraints.builder()
                    .maxNestingDepth(MOST_DEPTH)
                    .maxStringLength(Integer.MAX_VALUE)
                    .maxNumberLength(1 << 20)
                    .build())
            .disable(JsonFactory.Feature.INTERN_FIELD_NAMES)
            // What follows the last value still counts for the fingerprint.
            .disable(StreamReadFeature.AUTO_CLOSE_SOURCE)
            .build()
            .createParser(kept);
    this.carried = new byte[layout.carry().size()][];
    start.add(new Trail(-1, JsonPath.parse(records).segments()));
    for (int i = 0; i < carried.length; i++) {
      start.add(new Trail(i, JsonPath.parse(layout.carry().get(i)).segments()));
    }
  }

  static void checkPath(String text) {
    for (Segment segment : JsonPath.parse(text).segments()) {
      boolean fromEnd =
          segment.singular()
              && segment.selectors().get(0) instanceof JsonPath.Index index
              && index.index() < 0;
      if (!segment.singular() && !segment.wildcard() || fromEnd) {
        throw new IllegalArgumentException(
            "'%s' cannot be followed while streaming: only names, indices from the front and [*]"
                    .formatted(text)
                + " may be in it");
      }
    }
  }

  boolean fill(RecordBatch batch) throws IOException {
    appender.begin(batch);
    changed = false;
    batch.carried(carried.clone());
    try {
      while (!appender.full()) {
        JsonToken token = parser.nextToken();
        if (token == null) {
          break;
        }
        if (token == JsonToken.END_OBJECT || token == JsonToken.END_ARRAY) {
          levels.pop();
          if (levels.isEmpty()) {
            documentEnded();
          }
        } else if (token != JsonToken.FIELD_NAME) {
          value(token, batch);
          if (changed && batch.records() > 0) {
            break; // what is carried belongs to a whole batch
          }
        }
      }
    } catch (JsonProcessingException e) {
      throw broken(e);
    }
    return batch.records() > 0;
  }

  private void documentEnded() {
    if (carried.length > 0) {
      Arrays.fill(carried, null);
      changed = true;
    }
    recordSeen = false;
  }

  private void value(JsonToken token, RecordBatch batch) throws IOException {
    List<Trail> trails = levels.isEmpty() ? start : next(levels.peek());
    Trail end = trails.stream().filter(t -> t.rest().isEmpty()).findFirst().orElse(null);
    if (end != null) {
      take(token, end, batch);
    } else if (token.isStructStart() && trails.isEmpty()) {
      parser.skipChildren();
    } else if (token.isStructStart()) {
      levels.push(new Level(token == JsonToken.START_ARRAY, trails));
    }
  }

  /** The trails that lead through the value at hand. */
  private List<Trail> next(Level level) throws IOException {
    level.index++;
    level.name = level.array ? "" : parser.currentName();
    List<Trail> result = new ArrayList<>(level.trails.size());
    for (Trail trail : level.trails) {
      Segment segment = trail.rest().get(0);
      JsonPath.Selector selector = segment.selectors().get(0);
      boolean leads =
          selector instanceof JsonPath.Wildcard
              || !level.array
                  && selector instanceof JsonPath.Name name
                  && name.name().equals(level.name)
              || level.array
                  && selector instanceof JsonPath.Index index
                  && index.index() == level.index;
      if (leads) {
        result.add(new Trail(trail.number(), trail.rest().subList(1, trail.rest().size())));
      }
    }
    return result;
  }

  private void take(JsonToken token, Trail trail, RecordBatch batch) throws IOException {
    long from = parser.currentTokenLocation().getByteOffset();
    long line = parser.currentTokenLocation().getLineNr();
    kept.hold(from);
    if (token.isStructStart()) {
      parser.skipChildren();
    } else {
      parser.finishToken();
    }
    long to = parser.currentLocation().getByteOffset();
    if (trail.number() < 0) {
      if (kept.cut()) {
        appender.recordCut(kept.head());
      } else {
        appender.record(kept.bytes(), kept.at(from), kept.at(to));
      }
      appender.end(line, from);
      recordSeen = true;
    } else if (recordSeen) {
      throw Failure.file(
              "%s has %s behind its records".formatted(path, layout.carry().get(trail.number())))
          .because("a value can only be carried onto records that come after it")
          .hint("Ask the sender to put it first, or take it out of carry in the layout");
    } else if (kept.cut()) {
      throw Failure.file("%s has a value too large to be carried".formatted(path))
          .because(
              "%s is longer than the record limit".formatted(layout.carry().get(trail.number())))
          .hint("Take it out of carry in the layout");
    } else {
      carried[trail.number()] = Arrays.copyOfRange(kept.bytes(), kept.at(from), kept.at(to));
      batch.carried(carried.clone());
      changed = true;
    }
    kept.release();
  }

  private Failure broken(JsonProcessingException e) {
    StringBuilder where = new StringBuilder("$");
    levels
        .descendingIterator()
        .forEachRemaining(
            level -> where.append(level.array ? "[" + level.index + "]" : "." + level.name));
    boolean placed = e.getLocation() != null; // broken limits have their own place
    JsonLocation at = placed ? e.getLocation() : parser.currentLocation();
    return Failure.file(path + " is not well-formed JSON")
        .because(
            "at line %d, byte %,d, in or behind %s: %s"
                .formatted(at.getLineNr(), Math.max(0, at.getByteOffset()), where, why(e)))
        .hint("Nothing of it was loaded. Stage the file again, or ask the sender for a whole one")
        .from(e);
  }

  private static String why(JsonProcessingException e) {
    if (e instanceof StreamConstraintsException && e.getMessage().contains("nesting depth")) {
      return "it is nested deeper than %,d".formatted(MOST_DEPTH);
    }
    return e.getOriginalMessage().lines().findFirst().orElse("it is malformed");
  }
}
