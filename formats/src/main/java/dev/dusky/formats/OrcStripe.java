package dev.dusky.formats;

import java.io.EOFException;
import java.io.IOException;
import java.lang.reflect.Field;
import java.util.List;
import java.util.function.Consumer;
import org.apache.orc.Reader;
import org.apache.orc.RecordReader;
import org.apache.orc.StripeInformation;
import org.apache.orc.impl.InStream;
import org.apache.orc.impl.PositionProvider;
import org.apache.orc.impl.RecordReaderImpl;
import org.apache.orc.impl.StreamName;
import org.apache.orc.impl.reader.StripePlanner;
import org.apache.orc.storage.common.io.DiskRangeList;

/**
 * Opens one stripe so that a stream of it that ends too early is a failure. The library takes the
 * end of a stream for bytes of 255, or asks for more four thousand million times; it offers no
 * place to step in, so two of its fields are set before it reads the stripe.
 */
final class OrcStripe {

  private static final Field STRIPES = field("stripes");
  private static final Field PLANNER = field("planner");

  private OrcStripe() {}

  private static Field field(String name) {
    try {
      Field field = RecordReaderImpl.class.getDeclaredField(name);
      field.setAccessible(true);
      return field;
    } catch (NoSuchFieldException e) {
      throw new IllegalStateException("the ORC library has changed: it has no field " + name, e);
    }
  }

  /** A reader of the stripe's rows. */
  static RecordReader open(Reader reader, StripeInformation stripe, boolean[] included)
      throws IOException {
    // Rows of no stripe at first, or the library would begin to read before it is guarded.
    RecordReader rows = reader.rows(reader.options().range(0, 0).include(included));
    try {
      @SuppressWarnings("unchecked")
      List<StripeInformation> stripes = (List<StripeInformation>) STRIPES.get(rows);
      stripes.add(stripe);
      PLANNER.set(rows, new Planner((StripePlanner) PLANNER.get(rows)));
      return rows;
    } catch (IllegalAccessException e) {
      rows.close();
      throw new IllegalStateException("the ORC library has changed", e);
    }
  }

  private static final class Planner extends StripePlanner {

    Planner(StripePlanner planner) {
      super(planner);
    }

    @Override
    public InStream getStream(StreamName name) throws IOException {
      InStream stream = super.getStream(name);
      return stream == null ? null : new WholeStream(stream);
    }
  }

  /** A stream whose reader knows how much it needs. */
  private static final class WholeStream extends InStream {

    private final InStream stream;

    WholeStream(InStream stream) {
      super(stream.toString(), 0, 0);
      this.stream = stream;
    }

    private static int there(int read) throws EOFException {
      if (read < 0) {
        throw new EOFException("a stream of it ends too early");
      }
      return read;
    }

    @Override
    public int read() throws IOException {
      return there(stream.read());
    }

    @Override
    public int read(byte[] to, int offset, int length) throws IOException {
      return length == 0 ? 0 : there(stream.read(to, offset, length));
    }

    @Override
    public int available() throws IOException {
      return stream.available();
    }

    @Override
    public void seek(PositionProvider index) throws IOException {
      stream.seek(index);
    }

    @Override
    public void changeIv(Consumer<byte[]> modifier) {
      stream.changeIv(modifier);
    }

    @Override
    protected void setCurrent(DiskRangeList newRange, boolean isJump) {
      throw new UnsupportedOperationException("the stream itself does that");
    }

    @Override
    public void close() {
      stream.close();
    }

    @Override
    public String toString() {
      return stream.toString();
    }
  }
}
