package dev.dusky.standin;

/** An answer that is an error of the S3 protocol. */
final class StoreException extends RuntimeException {

  private final int status;
  private final String code;

  StoreException(int status, String code, String message) {
    super(message);
    this.status = status;
    this.code = code;
  }

  int status() {
    return status;
  }

  String code() {
    return code;
  }
}
