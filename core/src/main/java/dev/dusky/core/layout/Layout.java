package dev.dusky.core.layout;

/** A declared way to read a file's bytes as records. Each kind is a record of its own. */
public sealed interface Layout permits DelimitedLayout {

  /** The name under which the configuration declares it. */
  String name();

  /** The largest record accepted, in bytes. */
  int recordLimit();
}
