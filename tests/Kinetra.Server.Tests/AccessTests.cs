using System.Net;
using Kinetra.Server.Hosting.Access;
using Microsoft.AspNetCore.Http;

namespace Kinetra.Server.Tests;

public class AccessTests
{
    private static readonly AccessRules Rules = new([Binding.Loopback(5870), new(IPAddress.Parse("192.0.2.7"), 5870, ["desk.example"])]);

    [Theory]
    [InlineData("127.0.0.1", "127.0.0.1", "localhost:5870", "", 0, "")]
    [InlineData("127.0.0.1", "127.0.0.1", "LOCALHOST:5870", "http://localhost:5870", 0, "")]
    [InlineData("::ffff:127.0.0.1", "::ffff:127.0.0.1", "127.0.0.1:5870", "", 0, "")]
    [InlineData("127.0.0.1", "127.0.0.1", "elsewhere.example:5870", "", 403, "Host")]
    [InlineData("127.0.0.1", "127.0.0.1", "", "", 403, "Host")]
    [InlineData("127.0.0.1", "127.0.0.1", "localhost:5870", "http://localhost:5871", 403, "Origin")]
    [InlineData("127.0.0.1", "127.0.0.1", "localhost:5870", "null", 403, "Origin")]
    [InlineData("127.0.0.1", "192.0.2.7", "localhost:5870", "", 403, "Host")]
    [InlineData("127.0.0.1", "192.0.2.8", "localhost:5870", "", 403, "Host")]
    [InlineData("192.0.2.9", "192.0.2.7", "desk.example:5870", "", 401, "address")]
    [InlineData("192.0.2.9", "127.0.0.1", "localhost:5870", "", 401, "address")]
    public void Only_this_machine_gets_in_under_a_name_of_the_address_it_came_to(string remote, string local, string host, string origin, int status, string where)
    {
        var caller = new Caller(IPAddress.Parse(remote), IPAddress.Parse(local), "http", new HostString(host), origin);
        var principal = Rules.Admit(caller, out var refusal);
        (principal is not null).ShouldBe(status == 0);
        refusal.Status.ShouldBe(status);
        (refusal.Problem?.Where ?? "").ShouldBe(where);
        refusal.Problem?.Allowed.ShouldNotBeNull();
    }

    [Fact]
    public void By_default_nothing_is_listened_on_but_this_machines_own_address()
    {
        new Hosting.ServerOptions().Bindings.ShouldAllBe(b => IPAddress.IsLoopback(b.Address));
    }
}
