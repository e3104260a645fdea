package dev.dusky.core.bytes;

import java.io.IOException;

/** An error of the storage itself while a file is read, distinguished from damage in the file. */
public final class StorageException extends IOException {

  /** An error with its message and cause. */
  public StorageException(String message, Throwable cause) {
    super(message, cause);
  }
}
