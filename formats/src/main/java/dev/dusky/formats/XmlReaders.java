package dev.dusky.formats;

import dev.dusky.core.layout.Layout;
import dev.dusky.core.layout.XmlLayout;
import dev.dusky.core.record.FieldRequest;
import dev.dusky.core.record.LayoutReaders;
import dev.dusky.core.record.RecordReader;
import dev.dusky.core.record.SourceFile;
import java.io.IOException;

/** Opens XML files. */
public final class XmlReaders implements LayoutReaders {

  @Override
  public boolean reads(Layout layout) {
    return layout instanceof XmlLayout;
  }

  @Override
  public RecordReader open(SourceFile file, Layout layout, FieldRequest request)
      throws IOException {
    return new XmlReader(file.path(), file.content(), (XmlLayout) layout, request);
  }
}
