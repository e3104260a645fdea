package dev.dusky.core.bind;

import com.fasterxml.jackson.core.io.JsonStringEncoder;
import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.TypeGuess;
import dev.dusky.core.vector.BytesVector;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The parts of a batch's records without a column: unknown fields, and values that do not fit their
 * column's type. It is reported, and kept as JSON where the feed says so. Not safe for use by
 * several threads.
 */
public final class Leftovers {

  private final List<FeedColumn> columns;
  private final boolean captures;
  private final boolean widens;
  private final int[] extras;
  private final String[] names;
  private final int target;
  private final JsonTree tree = new JsonTree();
  private final Map<Integer, StringBuilder> misfits = new LinkedHashMap<>();
  private final Sightings seen = new Sightings();

  private Leftovers(Feed feed, DriftPolicy policy) {
    columns = feed.columns();
    captures = policy.captures();
    widens = policy.grows() && policy.widen();
    List<FeedColumn> hidden = FeedInputs.of(feed).hidden();
    extras = feed.extras().stream().mapToInt(hidden::indexOf).toArray();
    names = feed.extras().stream().map(FeedColumn::fieldName).toArray(String[]::new);
    int found = -1;
    for (int i = 0; i < columns.size(); i++) {
      found = columns.get(i).from() instanceof FieldSource.Leftovers ? i : found;
    }
    target = found;
  }

  /** The collector of a feed's leftovers, or null if it has none. */
  static Leftovers of(Feed feed) {
    return feed.policies()
        .drift()
        .filter(policy -> policy.captures() || policy.widen() || !feed.extras().isEmpty())
        .map(policy -> new Leftovers(feed, policy))
        .orElse(null);
  }

  /** Whether values of a column that do not fit are of interest here. */
  boolean watches(FeedColumn column) {
    boolean field = column.value().isEmpty() && !(column.from() instanceof FieldSource.OfFile);
    return field && (captures && !column.notNull() || widens);
  }

  void clear() {
    misfits.clear();
    seen.clear();
  }

  /** A value does not fit; true if it is kept, so that the record is not a reject. */
  boolean misfit(FeedColumn column, int record, RejectCode code, String text) {
    if (code == RejectCode.BAD_ENCODING) {
      return false; // no text, so no JSON either
    }
    boolean wider =
        code == RejectCode.OUT_OF_RANGE
            || code == RejectCode.TOO_MANY_DECIMALS
            || code == RejectCode.TEXT_TOO_LONG;
    if (captures || wider && isInWiderType(column, text)) {
      seen.misfit(column.name(), text);
    }
    if (captures) {
      member(misfits.computeIfAbsent(record, r -> new StringBuilder()), name(column), text);
    }
    return captures;
  }

  /** A JSON value is not of the declared form; true if it is kept, as it is. */
  boolean unlikeForm(FeedColumn column, int record, String json) {
    if (captures) {
      seen.misfit(column.name(), json);
      named(misfits.computeIfAbsent(record, r -> new StringBuilder()), name(column)).append(json);
    }
    return captures;
  }

  /** Whether a type of the same kind holds the value; if not, it does not make the type wider. */
  private static boolean isInWiderType(FeedColumn column, String text) {
    TypeGuess guess = new TypeGuess();
    guess.add(text, false);
    return !guess.widened(column.type()).equals(column.type());
  }

  /** How the leftovers name a column's field: paths without the sign for the record. */
  public static String name(FeedColumn column) {
    String field = column.fieldName();
    return field.startsWith("$.") ? field.substring(2) : field.replaceFirst("^\\$(?=\\[)", "");
  }

  private static void member(StringBuilder object, String name, String text) {
    named(object, name).append('"');
    object.append(JsonStringEncoder.getInstance().quoteAsString(text)).append('"');
  }

  private static StringBuilder named(StringBuilder object, String name) {
    object.append(object.isEmpty() ? "\"" : ",\"");
    return object.append(JsonStringEncoder.getInstance().quoteAsString(name)).append("\":");
  }

  /** Looks at the records that could be split into fields, and fills the column of leftovers. */
  void keep(RecordBatch in, RowBatch out) {
    for (int r = 0; r < in.records(); r++) {
      StringBuilder object = misfits.get(r);
      for (int i = 0; i < extras.length && in.fault(r) == null; i++) {
        BytesVector vector = (BytesVector) out.hidden().get(extras[i]);
        if (!vector.isNull(r)) {
          int start = vector.start(r);
          int end = start + vector.length(r);
          object = object == null ? new StringBuilder() : object;
          if (names[i].equals(FieldRequest.REST)) {
            members(object, vector.heap(), start, end);
          } else {
            String text = new String(vector.heap(), start, end - start, StandardCharsets.UTF_8);
            seen.unknown(names[i], text, false);
            member(object, names[i], text);
          }
        }
      }
      if (target >= 0) {
        BytesVector kept = (BytesVector) out.columns().get(target);
        if (object == null) {
          kept.setNull(r);
        } else {
          byte[] json = ("{" + object + "}").getBytes(StandardCharsets.UTF_8);
          kept.set(r, json, 0, json.length);
        }
      }
    }
    out.seen(seen);
  }

  /** The members of an object of leftovers that the reader made. */
  private void members(StringBuilder object, byte[] heap, int start, int end) {
    tree.read(heap, start, end);
    int last = tree.next(0);
    for (int node = 1; node < last; node = tree.next(node)) {
      boolean structure = tree.isContainer(node);
      seen.unknown(tree.key(node), tree.text(node), structure);
    }
    object.append(object.isEmpty() ? "" : ",");
    object.append(new String(heap, start + 1, end - start - 2, StandardCharsets.UTF_8));
  }
}
