using System.Net.Sockets;
using Microsoft.AspNetCore.Connections;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Storage;

namespace YoungFolio.Server;

/// <summary>Why the server can't start or a command can't be carried out, in one sentence for whoever keeps it, with what to do.</summary>
internal static class StartFailure
{
    private const int Full = 13;
    private const int InputOutput = 10;
    private const int ReadOnly = 8;
    private const int CannotOpen = 14;
    private const int Busy = 5;
    private const int Corrupt = 11;
    private const int NoDatabase = 26;

    /// <summary>The sentence; null for what nobody foresaw.</summary>
    public static string? Say(Exception error) => error switch
    {
        StoreException or ArgumentException => error.Message,
        SqliteException e => Say(e),
        DbUpdateException { InnerException: SqliteException e } => Say(e),
        AddressInUseException => "The port is in use. Stop what uses it, or take another one with --port.",
        IOException { InnerException: AddressInUseException } => "The port is in use. Stop what uses it, or take another one with --port.",
        SocketException { SocketErrorCode: SocketError.AddressAlreadyInUse } => "The port is in use. Stop what uses it, or take another one with --port.",
        SocketException { SocketErrorCode: SocketError.AccessDenied } or IOException { InnerException: SocketException { SocketErrorCode: SocketError.AccessDenied } } =>
            "This port may not be used. Take one above 1023 with --port.",
        SocketException e => $"The address can't be listened on: {e.Message}. Check --host and --port.",
        DirectoryNotFoundException or FileNotFoundException => $"{error.Message} Set the application up again with ./folio build, or check the folders that it was started with.",
        UnauthorizedAccessException => $"{error.Message} Give whoever runs the server the right to read and write there.",
        IOException => $"{error.Message} Check the disk and the data folder.",
        AggregateException { InnerException: { } inner } => Say(inner),
        InvalidOperationException { InnerException: { } inner } => Say(inner),
        _ => null,
    };

    private static string Say(SqliteException error) => error.SqliteErrorCode switch
    {
        Full or InputOutput => "The disk is full or fails, so the data can't be written. Make room, or take another data folder with --data; what was stored is safe.",
        ReadOnly => "The data folder can't be written to. Give whoever runs the server the right to write there, or take another folder with --data.",
        CannotOpen => "The database in the data folder can't be opened. Check the rights of the folder and of folio.db in it.",
        Busy => "The database is in use by another program. Stop that, then start again.",
        Corrupt or NoDatabase => "The database in the data folder is damaged. Keep the folder as it is, and put a backup in place with ./folio restore.",
        _ => $"The database can't be used: {error.Message}",
    };
}
