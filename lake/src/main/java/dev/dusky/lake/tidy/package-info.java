/** Keeps tables tidy: small data files, former states, files that no table needs. */
package dev.dusky.lake.tidy;
