package dev.dusky.depots;

/**
 * A request to the endpoint.
 *
 * @param doing the work in words, as a message begins with it
 * @param right the right that it needs
 * @param signed whether it was signed with keys
 */
record S3Request(String doing, Right right, boolean signed) {

  /** The right that a request needs. */
  enum Right {
    LIST("list the bucket", "s3:ListBucket"),
    READ("read objects", "s3:GetObject"),
    WRITE("write objects", "s3:PutObject and s3:DeleteObject");

    private final String words;
    private final String action;

    Right(String words, String action) {
      this.words = words;
      this.action = action;
    }

    /** The right in words. */
    String words() {
      return words;
    }

    /** The actions of the S3 protocol that it implements. */
    String action() {
      return action;
    }
  }
}
