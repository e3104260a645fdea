package dev.dusky.core.source;

import dev.dusky.core.stage.StageListener;

/** Follows a source while its rows are read and its files are staged, from several threads. */
public interface SourceListener extends StageListener {

  /** More rows were read. */
  void read(long rows);

  /** What people should know. */
  void remark(String text);
}
