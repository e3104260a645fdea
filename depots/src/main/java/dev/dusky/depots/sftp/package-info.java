/** Files behind an SFTP server, which are only read. */
package dev.dusky.depots.sftp;
