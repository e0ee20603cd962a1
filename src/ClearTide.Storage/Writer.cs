using System.Collections.Concurrent;
using System.Runtime.ExceptionServices;
using ClearTide.Core.Simulation;
using Microsoft.Data.Sqlite;

namespace ClearTide.Storage;

/// <summary>
/// Lets one write after the other into the database, without asking again and again whether it is free: who comes while another writes
/// leaves what is to be written, and the next in turn writes all that was left in one transaction (group commit). The disk is waited for
/// once for all of them, and a write returns when it is there.
/// </summary>
internal sealed class Writer(Func<SqliteConnection> open)
{
    private const int MostTogether = 64;

    private readonly ConcurrentQueue<Piece> _waiting = [];
    private readonly Lock _turn = new();

    /// <summary>What one caller has to write.</summary>
    private abstract class Piece
    {
        public bool IsOver { get; set; }

        public ExceptionDispatchInfo? Failure { get; set; }

        public abstract void Run(SqliteConnection connection, SqliteTransaction transaction);
    }

    private sealed class Piece<T>(Func<SqliteConnection, SqliteTransaction, T> work) : Piece
    {
        public T Result { get; private set; } = default!;

        public override void Run(SqliteConnection connection, SqliteTransaction transaction) => Result = work(connection, transaction);
    }

    /// <summary>Does work that writes. If it fails nothing of it is written, and what others write is.</summary>
    /// <param name="work">May be done on the thread of another caller.</param>
    public T Do<T>(Func<SqliteConnection, SqliteTransaction, T> work)
    {
        var piece = new Piece<T>(work);
        _waiting.Enqueue(piece);
        lock (_turn)
        {
            if (!piece.IsOver)
                WriteWaiting();
        }
        piece.Failure?.Throw();
        return piece.Result;
    }

    private void WriteWaiting()
    {
        var pieces = new List<Piece>();
        while (pieces.Count < MostTogether && _waiting.TryDequeue(out var piece))
            pieces.Add(piece);
        try
        {
            using var connection = open();
            using var transaction = connection.BeginTransaction(deferred: false);
            // What stands alone needs no mark to go back to: its transaction is one.
            if (pieces.Count == 1)
                pieces[0].Run(connection, transaction);
            else
                foreach (var piece in pieces)
                    Run(piece, connection, transaction);
            transaction.Commit();
        }
        catch (Exception failure)
        {
            var told = ExceptionDispatchInfo.Capture(failure);
            foreach (var piece in pieces)
                piece.Failure ??= told;
        }
        foreach (var piece in pieces)
            piece.IsOver = true;
    }

    private static void Run(Piece piece, SqliteConnection connection, SqliteTransaction transaction)
    {
        const string mark = "piece";
        transaction.Save(mark);
        try
        {
            piece.Run(connection, transaction);
        }
        catch (Exception failure)
        {
            piece.Failure = ExceptionDispatchInfo.Capture(failure);
            transaction.Rollback(mark);
        }
        transaction.Release(mark);
    }
}
