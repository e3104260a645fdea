package dev.dusky.app.workspace;

/** The version of this program. */
public final class Version {

  /** The number, the same as in the Maven build (a test holds them together). */
  public static final String NUMBER = "0.5.0";

  private Version() {}
}
