package dev.dusky.core.stage;

import java.nio.file.Path;

/**
 * A local file to be staged.
 *
 * @param file where it is
 * @param path the path that it gets in the depot
 * @param size its size in bytes
 */
public record LocalFile(Path file, String path, long size) {}
