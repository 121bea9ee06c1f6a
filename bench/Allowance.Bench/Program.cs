using Allowance.Bench;

return args switch
{
    ["forecast", .. var rest] => ForecastBench.Run(rest.Contains("--json")),
    _ => Usage(),
};

static int Usage()
{
    Console.Error.WriteLine("bench forecast [--json]   nanoseconds a simulated turn, against a floor of bare random draws");
    return 2;
}
