package dev.dusky.core.record;

import dev.dusky.core.layout.DelimitedLayout;
import dev.dusky.core.layout.FixedLayout;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.layout.Layout;
import java.io.IOException;
import java.util.List;
import java.util.ServiceLoader;

/** Opens the reader that a layout needs: those of text here, the others where they are found. */
public final class Readers {

  private Readers() {}

  /**
   * Opens a file; what is wrong with it, here or while it is read, is a failure of kind FILE,
   * whatever a library throws.
   */
  public static RecordReader open(SourceFile file, Layout layout, FieldRequest request)
      throws IOException {
    try {
      return new GuardedReader(file.path(), reader(file, layout, request));
    } catch (Throwable e) { // this is the boundary
      throw FileFaults.of(file.path(), "while it was opened", e);
    }
  }

  private static RecordReader reader(SourceFile file, Layout layout, FieldRequest request)
      throws IOException {
    if (layout instanceof DelimitedLayout delimited) {
      return new DelimitedReader(file.path(), file.content(), delimited);
    }
    if (layout instanceof FixedLayout fixed) {
      return new FixedReader(file.path(), file.content(), fixed);
    }
    if (layout instanceof JsonLayout json) {
      return new JsonReader(file.path(), file.content(), json, request);
    }
    return other(layout).open(file, layout, request);
  }

  /** The fields that the file itself declares in a schema; empty if it has none. */
  public static List<DeclaredField> fields(SourceFile file, Layout layout) throws IOException {
    boolean text =
        layout instanceof DelimitedLayout
            || layout instanceof FixedLayout
            || layout instanceof JsonLayout;
    try {
      return text ? List.of() : other(layout).fields(file, layout);
    } catch (Throwable e) { // this is the boundary
      throw FileFaults.of(file.path(), "in its schema", e);
    }
  }

  private static LayoutReaders other(Layout layout) {
    for (LayoutReaders readers : ServiceLoader.load(LayoutReaders.class)) {
      if (readers.reads(layout)) {
        return readers;
      }
    }
    throw new LinkageError("this build has no reader for layouts of kind " + layout.kind());
  }
}
