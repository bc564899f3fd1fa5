namespace YoungFolio.Storage;

/// <summary>What was asked can't be done, for a reason that people can act on.</summary>
public class StoreException(string message) : Exception(message);

/// <summary>Nothing can be stored just now: the disk is full or fails. What was stored before is safe.</summary>
public sealed class StorageFullException()
    : StoreException("Nothing can be stored just now: the server's disk is full. What you typed stays here and is sent again; tell whoever runs the server.");

/// <summary>Updates were made too long ago to be carried over all that came since: their writer catches up and sends them again.</summary>
public sealed class BehindException() : StoreException("Much was written in the meantime. Catching up first …");
