package dev.dusky.core.mend;

import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.StoredReject;
import java.util.List;

/** Receives the outcome of each reject that is mended. */
public interface MendListener {

  /** Its record is loaded, or left out by the feed's condition. */
  default void mended(StoredReject reject) {}

  /** Its record is still wrong; it stays open. */
  default void wrong(StoredReject reject, List<Problem> problems) {}

  /** It was settled before, or another process is settling it; nothing was done. */
  default void settled(StoredReject reject) {}
}
