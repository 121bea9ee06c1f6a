using System.Net;
using System.Net.Sockets;
using Allowance.Store;
using Allowance.Web.Demonstration;
using Microsoft.AspNetCore.DataProtection;
using Serilog;
using Serilog.Events;

namespace Allowance.Web.Commands;

/// <summary>Builds and runs the web application.</summary>
public static class Serving
{
    /// <returns>0; 2 where it could not begin, which was told.</returns>
    public static int Run(int port, string dataDirectory, bool demo)
    {
        Log.Logger = new LoggerConfiguration()
            .MinimumLevel.Information()
            .MinimumLevel.Override("Microsoft", LogEventLevel.Warning)
            // A start that fails is said in plain words below.
            .MinimumLevel.Override("Microsoft.Extensions.Hosting.Internal.Host", LogEventLevel.Fatal)
            // The keys lie beside the household's own file, with the same rights.
            .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", LogEventLevel.Error)
            .Enrich.FromLogContext()
            .WriteTo.Console(outputTemplate: "{Timestamp:HH:mm:ss} {Level:u3} {Message:lj} {Properties:j}{NewLine}{Exception}", standardErrorFromLevel: LogEventLevel.Verbose)
            .CreateLogger();
        try
        {
            if (port is < 1 or > 65535) return Refuse($"{port} is no port; choose one from 1024 to 65535, for example --port 5210.");
            if (!IsFree(port)) return Refuse(Taken(port));
            // Computations hold a thread each for seconds; pages must not wait until the pool grows.
            ThreadPool.SetMinThreads(LeastThreads, LeastThreads);
            using var held = HouseholdDirectory.Hold(dataDirectory);
            if (demo && dataDirectory == DataDirectory.ForDemo) HouseholdDirectory.Empty(dataDirectory);
            DemoHousehold.DropUnfinished(dataDirectory);
            SetAsideUnreadableKeys(dataDirectory);
            var database = Database.Open(dataDirectory);
            var app = Build(database, port);
            app.Services.GetRequiredService<FirstPages>().Begin();
            if (demo) DemoHousehold.Fill(database, TimeProvider.System, (week, of) => Console.WriteLine($"Making the demonstration: {week} of {of} weeks are played."));
            app.Services.GetRequiredService<Files.Imports>().Resume();
            app.Services.GetRequiredService<Offering>().Begin();
            app.Start();
            app.Services.GetRequiredService<FirstPages>().MakeReady($"http://localhost:{port}");
            Console.WriteLine($"Allowance is at http://localhost:{port}/ — its data is in {dataDirectory}. Stop it with Ctrl+C.");
            app.WaitForShutdown();
            return 0;
        }
        catch (StoreClosedException e)
        {
            return Refuse(e.Message);
        }
        catch (Exception e) when (e is HouseholdGoneException or Microsoft.Data.Sqlite.SqliteException or UnauthorizedAccessException)
        {
            return Refuse($"The household in {dataDirectory} could not be made ready: {e.Message.TrimEnd('.')}. What was noted is still there.");
        }
        catch (IOException e)
        {
            return Refuse(e.InnerException is SocketException or Microsoft.AspNetCore.Connections.AddressInUseException ? Taken(port) : $"The data directory {dataDirectory} could not be written: {e.Message.TrimEnd('.')}.");
        }
        finally
        {
            Log.CloseAndFlush();
        }
    }

    private const int LeastThreads = 32;

    private static int Refuse(string words)
    {
        Console.Error.WriteLine(words);
        return 2;
    }

    private static string Taken(int port) =>
        $"Port {port} is in use by another program. Nothing was changed; port {FreePort(port)} is free: add --port {FreePort(port)}.";

    /// <summary>Keys that cannot be read any more would stand in the way of every page. Without them forms that lie open must be opened again, nothing else.</summary>
    private static void SetAsideUnreadableKeys(string directory)
    {
        string keys = KeysOf(directory);
        if (!Directory.Exists(keys)) return;
        foreach (string file in Directory.GetFiles(keys, "*.xml"))
            try
            {
                System.Xml.Linq.XDocument.Load(file);
            }
            catch (System.Xml.XmlException)
            {
                File.Move(file, file + ".unreadable", true);
                Console.Error.WriteLine($"The key file {file} could not be read and was set aside. Pages that lie open have to be opened again; nothing else is lost.");
            }
    }

    private static string KeysOf(string directory) => Path.Combine(directory, "keys");

    private static bool IsFree(int port)
    {
        try
        {
            using var listener = new TcpListener(IPAddress.Loopback, port);
            listener.Start();
            return true;
        }
        catch (SocketException)
        {
            return false;
        }
    }

    private static int FreePort(int after)
    {
        for (int port = after + 1; port < Math.Min(65535, after + 200); port++)
            if (IsFree(port)) return port;
        return 0;
    }

    /// <summary>The application over a household's file. It answers on the loopback address only.</summary>
    /// <param name="clock">Another than that of the machine, where time is to be passed.</param>
    public static WebApplication Build(Database database, int port, TimeProvider? clock = null)
    {
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = AppContext.BaseDirectory, ApplicationName = typeof(Serving).Assembly.GetName().Name });
        builder.Host.UseSerilog();
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            // Both loopback addresses; a test that asks for any free port gets one of them.
            if (port == 0) kestrel.Listen(IPAddress.Loopback, port);
            else kestrel.ListenLocalhost(port);
            kestrel.Limits.MaxRequestBodySize = 1024 * 1024;
            kestrel.AddServerHeader = false;
        });
        Compose(builder.Services, database, clock ?? TimeProvider.System);
        var app = builder.Build();
        Pipeline(app);
        return app;
    }

    public static void Compose(IServiceCollection services, Database database, TimeProvider clock)
    {
        services.AddDataProtection().SetApplicationName("Allowance").PersistKeysToFileSystem(HouseholdDirectory.OwnersFolder(KeysOf(database.Directory)));
        services.AddSingleton(clock);
        services.AddSingleton(database);
        services.AddSingleton<Players>();
        services.AddSingleton<Settings>();
        services.AddSingleton<Things>();
        services.AddSingleton<SavedSetups>();
        services.AddSingleton<Observations>();
        services.AddSingleton<Entries>();
        services.AddSingleton<AimWishes>();
        services.AddSingleton<Logbook>();
        services.AddSingleton<Estimates>();
        services.AddSingleton<ChildLogs>();
        services.AddSingleton<SittingLog>();
        services.AddSingleton<Household>();
        services.AddTransient(s => s.GetRequiredService<Household>().Calendar);
        services.AddSingleton<Tables>();
        services.AddSingleton<Shelf>();
        services.AddSingleton<Offering>();
        services.AddSingleton<Advising>();
        services.AddSingleton<PlanLog>();
        services.AddSingleton<Planning>();
        services.AddSingleton<Files.Imports>();
        services.AddSingleton<Computing>();
        services.AddSingleton<DemoMaking>();
        services.AddSingleton<FirstPages>();
        services.AddRazorPages(options => options.Conventions.ConfigureFilter(new Pages.WholeRequests()))
            // What is missing is told by the page that needs it.
            .AddMvcOptions(options => options.SuppressImplicitRequiredAttributeForNonNullableReferenceTypes = true);
        services.AddAntiforgery(options => options.HeaderName = "RequestVerificationToken");
        services.AddOpenApi();
        services.AddProblemDetails();
    }

    public static void Pipeline(WebApplication app)
    {
        app.Use(Door.Keep);
        app.Use(app.Services.GetRequiredService<FirstPages>().Wait);
        app.UseExceptionHandler("/trouble");
        app.UseStatusCodePagesWithReExecute("/trouble", "?code={0}");
        app.Use(SecurityHeaders);
        app.MapStaticAssets();
        app.UseRouting();
        app.UseAntiforgery();
        app.MapRazorPages();
        app.MapOpenApi();
        app.MapGet("/plaintext", () => Results.Text("Allowance"));
        ForecastApi.Map(app);
    }

    private static Task SecurityHeaders(HttpContext context, RequestDelegate next)
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = "default-src 'self'; object-src 'none'; base-uri 'self'; form-action 'self'; frame-ancestors 'none'";
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        return next(context);
    }
}
