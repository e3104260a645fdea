package dev.dusky.lake.read;

import dev.dusky.core.table.Provenance;
import java.nio.ByteBuffer;
import java.util.Map;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.Schema;
import org.apache.iceberg.types.Conversions;
import org.apache.iceberg.types.Types;

/**
 * The loads and files whose rows a data file may have, by its statistics. Without statistics the
 * bounds are the widest.
 *
 * @param lowLoad the least number of a load
 * @param highLoad the greatest number of a load
 * @param lowFile the least number of a file
 * @param highFile the greatest number of a file
 */
public record PostingBounds(long lowLoad, long highLoad, long lowFile, long highFile) {

  /** Those of a data file whose scan included its statistics. */
  public static PostingBounds of(Schema schema, DataFile file) {
    int load = schema.findField(Provenance.LOAD).fieldId();
    int source = schema.findField(Provenance.FILE).fieldId();
    return new PostingBounds(
        bound(file.lowerBounds(), load, Long.MIN_VALUE),
        bound(file.upperBounds(), load, Long.MAX_VALUE),
        bound(file.lowerBounds(), source, Long.MIN_VALUE),
        bound(file.upperBounds(), source, Long.MAX_VALUE));
  }

  private static long bound(Map<Integer, ByteBuffer> bounds, int field, long widest) {
    ByteBuffer bound = bounds == null ? null : bounds.get(field);
    return bound == null ? widest : Conversions.fromByteBuffer(Types.LongType.get(), bound);
  }

  /** Whether all rows have one provenance. */
  boolean single() {
    return lowLoad == highLoad && lowFile == highFile;
  }
}
