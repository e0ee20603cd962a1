using System.Runtime.ExceptionServices;
using Microsoft.Data.Sqlite;

namespace ClearTide.Storage;

/// <summary>
/// Lets one write after the other into the database, without asking again and again whether it is free: who comes while another writes
/// leaves what is to be written, and the next in turn writes all that was left in one transaction (group commit). The disk is waited for
/// once for all of them, and a write returns when it is there. Whoever waits is woken once, by name: either what it left has been written,
/// or it is its turn to write.
/// </summary>
internal sealed class Writer(Func<SqliteConnection> open)
{
    private const int MostTogether = 64;

    private readonly Lock _gate = new();
    private readonly Queue<Piece> _waiting = [];
    private bool _writing;

    /// <summary>Kept from one write to the next; used by whoever's turn it is.</summary>
    private SqliteConnection? _connection;

    /// <summary>What one caller has to write.</summary>
    private abstract class Piece
    {
        private bool _woken;

        public bool IsOver { get; set; }

        public ExceptionDispatchInfo? Failure { get; set; }

        public abstract void Run(SqliteConnection connection, SqliteTransaction transaction);

        public void Wait()
        {
            lock (this)
            {
                while (!_woken)
                    Monitor.Wait(this);
            }
        }

        public void Wake()
        {
            lock (this)
            {
                _woken = true;
                Monitor.Pulse(this);
            }
        }
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
        if (!IsTurn(piece))
            piece.Wait();
        if (!piece.IsOver)
            WriteFrom(piece);
        piece.Failure?.Throw();
        return piece.Result;
    }

    /// <summary>Whether nobody writes, so that the caller does; else its piece waits.</summary>
    private bool IsTurn(Piece piece)
    {
        lock (_gate)
        {
            if (_writing)
                _waiting.Enqueue(piece);
            else
                return _writing = true;
            return false;
        }
    }

    /// <summary>Writes a piece with all that wait, wakes who left them, and gives the turn to the next.</summary>
    private void WriteFrom(Piece first)
    {
        List<Piece> pieces = [first];
        lock (_gate)
        {
            while (pieces.Count < MostTogether && _waiting.TryDequeue(out var piece))
                pieces.Add(piece);
        }
        Write(pieces);
        Piece? next;
        lock (_gate)
            _writing = _waiting.TryDequeue(out next);
        next?.Wake();
        foreach (var piece in pieces.Skip(1))
            piece.Wake();
    }

    private void Write(List<Piece> pieces)
    {
        try
        {
            var connection = _connection ??= open();
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
            // What it leaves behind is not trusted: the next write begins with another connection.
            _connection?.Dispose();
            _connection = null;
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
