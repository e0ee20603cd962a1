using ClearTide.Core.Compilation;
using ClearTide.Core.Simulation;
using ClearTide.Storage;
using ClearTide.Web.Curves;
using ClearTide.Web.Guide;
using ClearTide.Web.Hosting;
using ClearTide.Web.Jobs;
using ClearTide.Web.Studies;
using ClearTide.Web.Thumbnails;
using Microsoft.AspNetCore.DataProtection;
using Serilog;

var builder = WebApplication.CreateBuilder(args);
builder.Host.UseSerilog(
    (context, logging) =>
        logging
            .MinimumLevel.Override("Microsoft", Serilog.Events.LogEventLevel.Warning)
            .ReadFrom.Configuration(context.Configuration)
            .WriteTo.Console(outputTemplate: "{Timestamp:HH:mm:ss} {Level:u3} {Message:lj}{NewLine}{Exception}")
);
if (builder.Configuration["urls"] is null && builder.Configuration["http_ports"] is null)
    builder.WebHost.UseUrls("http://127.0.0.1:5180");
var dataFolder = builder.Configuration["DataFolder"] ?? Path.Combine(builder.Environment.ContentRootPath, "..", "..", "data");
DataFolder folder;
Database database;
try
{
    folder = new(dataFolder);
    database = new(folder.Path);
}
catch (Exception failure) when (DataFolderException.Of(failure, dataFolder) is { } told)
{
    Console.Error.WriteLine(told.Message);
    return told.ExitCode;
}

builder.WebHost.ConfigureKestrel(kestrel =>
{
    kestrel.AddServerHeader = false;
    // Larger than any limit of the application, so that the page can say what is too large and by how much.
    kestrel.Limits.MaxRequestBodySize = UploadLimits.RequestBytes;
});

// Keys live beside the data: a page that stays open over a restart can still post.
builder
    .Services.AddDataProtection()
    .PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(folder.Path, "keys")))
    .SetApplicationName("clear-tide");

// Any web site could point its own name at this machine: only names that mean this machine, and those that the setting lists, are served.
builder.Services.AddHostFiltering(hosts =>
    hosts.AllowedHosts = (
        builder.Configuration["AllowedHosts"] is { Length: > 0 } listed and not "*" ? listed : "localhost;127.0.0.1;[::1]"
    ).Split(';')
);
WorkTime.Prepare(builder.Services);
builder
    .Services.AddRazorPages()
    .AddMvcOptions(options =>
    {
        options.Filters.Add<UnreadableStudies>();
        options.Filters.Add<UnwritableStorage>();
        options.Filters.Add<SoundArguments>();
    });

// A table that was read as a file comes back as a field of the form.
builder.Services.Configure<Microsoft.AspNetCore.Http.Features.FormOptions>(form =>
{
    form.MultipartBodyLengthLimit = UploadLimits.RequestBytes;
    form.ValueLengthLimit = (int)UploadLimits.StudyBytes;
    form.ValueCountLimit = UploadLimits.FormFields;
});
builder.Services.AddAntiforgery(options => options.HeaderName = "X-CSRF");
builder.Services.AddSingleton(_ => folder);
builder.Services.AddSingleton(database);
builder.Services.AddSingleton<StudyStore>();
builder.Services.AddSingleton<Shelf>();
builder.Services.AddSingleton<StudyRescue>();
builder.Services.AddSingleton<StudyHistory>();
builder.Services.AddSingleton<DataSetStore>();
builder.Services.AddSingleton<TableLayoutStore>();
builder.Services.AddSingleton<SettingsStore>();
builder.Services.AddSingleton<KeptRunStore>();
builder.Services.AddSingleton<ReadTables>();
builder.Services.AddSingleton<MappedTables>();
builder.Services.AddSingleton<KeptFiles>();
builder.Services.AddSingleton<KeptTables>();
builder.Services.AddSingleton<RunCache>();
builder.Services.AddSingleton<ExploredRuns>();
builder.Services.AddSingleton<WorkAhead>();
builder.Services.AddSingleton<ShelfPictures>();
builder.Services.AddSingleton<PatternPictures>();
builder.Services.AddSingleton<UserGuide>();
builder.Services.AddSingleton<JobStore>();
builder.Services.AddSingleton<ResultStore>();
builder.Services.AddSingleton<StudyLibrary>();
builder.Services.AddSingleton<JobSignal>();
builder.Services.AddSingleton<FitJob>();
builder.Services.AddSingleton<ProjectionJob>();
builder.Services.AddHostedService<JobRunner>();

var app = builder.Build();
app.UseMiddleware<QuietCollection>();
app.UseExceptionHandler("/error");
app.UseStatusCodePagesWithReExecute("/error", "?code={0}");
app.UseMiddleware<SecurityHeaders>();
app.UseMiddleware<KnownMethods>();
app.UseStaticFiles(new StaticFileOptions { OnPrepareResponse = static file => file.Context.Response.Headers.CacheControl = "no-cache" });
app.UseStaticFiles(
    new StaticFileOptions
    {
        RequestPath = "/guide/screenshots",
        FileProvider = new Microsoft.Extensions.FileProviders.PhysicalFileProvider(Path.Combine(UserGuide.Folder, "screenshots")),
    }
);
app.UseRequestTimeouts();
app.MapRazorPages();
app.MapGet("/health", () => Results.Text("ready"));
app.MapGet("/study.schema.json", () => Results.Text(ClearTide.Formats.Studies.StudySchema.Text, "application/schema+json"));
app.Services.GetRequiredService<StudyLibrary>().AddDemoStudies(app.Configuration.GetValue("Demo", true));
app.Lifetime.ApplicationStarted.Register(() => Console.WriteLine($"Clear Tide runs at {string.Join(", ", app.Urls)}"));

// Made by the container, so that it is given back when the server ends.
_ = app.Services.GetRequiredService<DataFolder>();
app.Services.GetRequiredService<JobStore>().BeginAgain();
app.Run();
return 0;

/// <summary>Named so that tests can start the application in their own process.</summary>
public partial class Program;
