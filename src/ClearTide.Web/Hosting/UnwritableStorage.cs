using ClearTide.Core.Model;
using ClearTide.Storage;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.Data.Sqlite;

namespace ClearTide.Web.Hosting;

/// <summary>An edit that could not be written, because the disk is full or the folder cannot be written any more, is told as
/// such.</summary>
public sealed class UnwritableStorage(ILogger<UnwritableStorage> log) : IExceptionFilter
{
    public void OnException(ExceptionContext context)
    {
        if (
            context.Exception
            is not SqliteException { SqliteErrorCode: Sqlite.Full or Sqlite.ReadOnly or Sqlite.Input or Sqlite.CannotOpen } failure
        )
        {
            return;
        }
        log.LogError(failure, "The data folder cannot be written");
        context.Result = new StatusCodeResult(StatusCodes.Status507InsufficientStorage);
        context.ExceptionHandled = true;
    }
}
