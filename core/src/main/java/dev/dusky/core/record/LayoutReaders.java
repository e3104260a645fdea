package dev.dusky.core.record;

import dev.dusky.core.layout.Layout;
import java.io.IOException;
import java.util.List;

/** Opens readers for some kinds of layout. Found through {@link java.util.ServiceLoader}. */
public interface LayoutReaders {

  /** Whether it reads files of that layout. */
  boolean reads(Layout layout);

  /** Opens a file; what is wrong with it as a whole is a failure of kind FILE. */
  RecordReader open(SourceFile file, Layout layout, FieldRequest request) throws IOException;

  /** The fields that the file itself declares, with their types; empty if it declares none. */
  default List<DeclaredField> fields(SourceFile file, Layout layout) throws IOException {
    return List.of();
  }
}
