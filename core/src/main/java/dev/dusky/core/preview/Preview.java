package dev.dusky.core.preview;

import dev.dusky.core.bind.Binder;
import dev.dusky.core.bind.FeedInputs;
import dev.dusky.core.bind.FieldPlan;
import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.bytes.Compression;
import dev.dusky.core.bytes.FileContent;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedContent;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.feed.FeedColumn;
import dev.dusky.core.feed.FieldSource;
import dev.dusky.core.feed.FileFacts;
import dev.dusky.core.layout.FieldNaming;
import dev.dusky.core.record.FieldSplitter;
import dev.dusky.core.record.FieldText;
import dev.dusky.core.record.Readers;
import dev.dusky.core.record.RecordBatch;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import dev.dusky.core.record.TrailerReader;
import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.vector.VectorText;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;

/**
 * Some records of one file, as a feed reads them. The first records need the beginning of the file
 * only; formats that are read from their end fetch the pieces they need.
 */
public final class Preview {

  private static final int SMALL = 32 << 10;
  private static final int LARGE = 256 << 10;

  private final Feed feed;
  private final StagedFile file;
  private final PreviewMode mode;
  private final int most;
  private final Random random;
  private final Deque<PreviewRecord> seen = new ArrayDeque<>();
  private final List<PreviewRecord> reservoir = new ArrayList<>();
  private final FieldText text;
  private Compression compression = Compression.PLAIN;
  private List<String> columns = List.of();
  private List<String> types = List.of();
  private Optional<String> refusal = Optional.empty();
  private long read;
  private long rejected;
  private long filtered;
  private long matched;

  private Preview(StagedFile file, Feed feed, PreviewMode mode, int most, long seed) {
    // each batch's rejects are seen and dropped
    this.feed = feed.withPolicies(feed.policies().withRejectCap(Integer.MAX_VALUE));
    this.file = file;
    this.mode = mode;
    this.most = most;
    this.random = new Random(seed);
    this.text = new FieldText(feed.layout());
  }

  /** Looks at up to that many records; the feed's condition chooses among them. */
  public static Preview at(
      Depot depot, StagedFile file, Feed feed, PreviewMode mode, int most, long seed)
      throws IOException {
    Preview look = new Preview(file, feed, mode, most, seed);
    try (FileContent content = new FileContent(file.path(), depot.open(file), feed.limits())) {
      look.compression = content.compression();
      boolean anywhere = look.compression == Compression.PLAIN && depot.seekable(file);
      SourceFile source =
          new SourceFile(
              file.path(),
              content,
              anywhere ? Optional.of(new StagedContent(depot, file)) : Optional.empty());
      try (RecordReader reader =
          TrailerReader.around(
              file.path(),
              Readers.open(source, feed.layout(), FeedInputs.of(feed).request()),
              feed.layout(),
              feed.policies().expectations().trailer())) {
        look.run(reader);
      }
    }
    return look;
  }

  private void run(RecordReader reader) throws IOException {
    Binder binder = binder(reader);
    RowBatch rows = binder == null ? null : binder.newBatch();
    RecordBatch batch = new RecordBatch(mode == PreviewMode.FIRST ? SMALL : LARGE);
    FieldSplitter splitter = reader.splitter();
    while (!enough() && reader.read(batch)) {
      RecordBatch split = splitter.split(batch);
      if (columns.isEmpty()) {
        name(reader, split);
      }
      Map<Integer, List<String>> problems = new HashMap<>();
      boolean[] left = new boolean[split.records()];
      if (binder != null) {
        binder.bind(split, rows);
        judge(rows, problems, left);
      }
      int tail = mode == PreviewMode.LAST ? tail(problems, left) : 0;
      for (int r = 0; r < split.records() && !enough(); r++) {
        read++;
        if (problems.containsKey(r)) {
          rejected++;
        } else if (left[r]) {
          filtered++;
        }
        if (r >= tail && mode != PreviewMode.COUNT && shown(r, problems, left)) {
          keep(split, r, problems.getOrDefault(r, List.of()));
        }
      }
    }
  }

  /** With a condition only records that are sure to fulfil it are shown. */
  private boolean shown(int r, Map<Integer, List<String>> problems, boolean[] left) {
    return !left[r] && (feed.where().isEmpty() || !problems.containsKey(r));
  }

  /** The first record of the batch that may be among the last of the file. */
  private int tail(Map<Integer, List<String>> problems, boolean[] left) {
    int wanted = most;
    int r = left.length;
    while (r > 0 && wanted > 0) {
      r--;
      wanted -= shown(r, problems, left) ? 1 : 0;
    }
    return r;
  }

  private Binder binder(RecordReader reader) {
    try {
      FileFacts facts = FileFacts.of(feed.files(), file, 0, Instant.now());
      return new Binder(
          feed, FieldPlan.of(feed, file.path(), reader.names()), facts, reader.typed());
    } catch (Failure failure) {
      if (failure.kind() != Failure.Kind.FILE || feed.where().isPresent()) {
        throw failure;
      }
      refusal = Optional.of(failure.getMessage());
      return null;
    }
  }

  private static void judge(RowBatch rows, Map<Integer, List<String>> problems, boolean[] left) {
    java.util.Arrays.fill(left, true);
    for (int i = 0; i < rows.count(); i++) {
      left[rows.selected(i)] = false;
    }
    for (Reject reject : rows.rejects()) {
      int r = (int) reject.recordNumber() - 1;
      left[r] = false;
      problems.put(r, reject.problems().stream().map(Preview::sentence).toList());
    }
  }

  private static String sentence(Problem problem) {
    return (problem.column() + " " + problem.message()).strip();
  }

  private boolean enough() {
    return mode == PreviewMode.FIRST && seen.size() >= most;
  }

  private void keep(RecordBatch batch, int r, List<String> problems) {
    matched++;
    boolean full = reservoir.size() >= most;
    long slot = mode == PreviewMode.RANDOM && full ? (long) (random.nextDouble() * matched) : 0;
    if (mode == PreviewMode.RANDOM && full && slot >= most) {
      return;
    }
    String place = batch.place(r);
    PreviewRecord record =
        new PreviewRecord(
            read, place.isEmpty() ? "line " + batch.line(r) : place, values(batch, r), problems);
    if (mode == PreviewMode.RANDOM) {
      if (full) {
        reservoir.set((int) slot, record);
      } else {
        reservoir.add(record);
      }
      return;
    }
    seen.add(record);
    if (seen.size() > most) {
      seen.remove();
    }
  }

  private List<String> values(RecordBatch batch, int r) {
    List<String> values = new ArrayList<>();
    if (batch.typed() != null) {
      for (int c = 0; c < batch.typed().types().size(); c++) {
        boolean none = batch.typed().vectors().get(c).isNull(r);
        values.add(
            none
                ? null
                : VectorText.text(batch.typed().types().get(c), batch.typed().vectors().get(c), r));
      }
      return values;
    }
    for (int f = 0; f < batch.fieldCount(r); f++) {
      int field = batch.firstField(r) + f;
      text.locate(batch, field);
      boolean none =
          text.start() == text.end()
              && !batch.quoted(field)
              && feed.layout().naming() == FieldNaming.PATH;
      values.add(none ? null : text.toString());
    }
    while (values.size() < columns.size()) {
      values.add(null);
    }
    return values;
  }

  /** Names and types of the columns, once the first records are there. */
  private void name(RecordReader reader, RecordBatch batch) {
    List<FeedColumn> fields = FeedInputs.of(feed).fields();
    if (feed.layout().naming() == FieldNaming.PATH) {
      columns = fields.stream().map(FeedColumn::name).toList();
      types = fields.stream().map(Preview::type).toList();
      return;
    }
    List<String> names = new ArrayList<>(reader.names());
    int width = 0;
    for (int r = 0; r < batch.records(); r++) {
      width = Math.max(width, batch.fieldCount(r));
    }
    for (int i = names.size(); i < width; i++) {
      names.add("field " + (i + 1));
    }
    columns = names;
    List<String> found = new ArrayList<>();
    boolean byName = !reader.names().isEmpty();
    for (int i = 0; i < names.size(); i++) {
      found.add(type(fields, names.get(i), i, byName));
    }
    types = found;
  }

  private static String type(List<FeedColumn> fields, String name, int position, boolean byName) {
    for (int i = 0; i < fields.size(); i++) {
      FeedColumn field = fields.get(i);
      boolean fills =
          field.from() instanceof FieldSource.At at
              ? at.position() == position + 1
              : byName ? field.fieldName().equalsIgnoreCase(name) : i == position;
      if (fills) {
        return type(field);
      }
    }
    return "";
  }

  private static String type(FeedColumn column) {
    return column.type() + (column.notNull() ? " not null" : "");
  }

  /** How the file is compressed. */
  public Compression compression() {
    return compression;
  }

  /** The names of the columns. */
  public List<String> columns() {
    return columns;
  }

  /** The feed's types for them, or empty texts. */
  public List<String> types() {
    return types;
  }

  /** The records, in the order of the file. */
  public List<PreviewRecord> records() {
    if (mode != PreviewMode.RANDOM) {
      return List.copyOf(seen);
    }
    return reservoir.stream()
        .sorted(java.util.Comparator.comparingLong(PreviewRecord::number))
        .toList();
  }

  /** Why a load would refuse the file as a whole, if that is certain. */
  public Optional<String> refusal() {
    return refusal;
  }

  /** How many records were read. */
  public long read() {
    return read;
  }

  /** How many of them a load would reject. */
  public long rejected() {
    return rejected;
  }

  /** How many the condition leaves out. */
  public long filtered() {
    return filtered;
  }
}
