using Kinetra.Server.Features.Microphones;
using Microsoft.Extensions.Time.Testing;

namespace Kinetra.Server.Tests;

public class BrowserDeviceTests
{
    private static readonly Granted Mono = new(48_000, 1, false, false, false, null);
    private readonly FakeTimeProvider _time = new();
    private readonly BrowserDevice _device;

    public BrowserDeviceTests() => _device = new BrowserDevice("c", "d", _time);

    [Fact]
    public void A_computer_that_falls_asleep_is_a_stall_and_waking_up_ends_it()
    {
        _device.State.ShouldBe(DeviceState.NotHere);
        var lease = Join("w1");
        _device.State.ShouldBe(DeviceState.Live);
        _time.Advance(TimeSpan.FromSeconds(2));
        _device.State.ShouldBe(DeviceState.Stalled);
        _device.Write(lease, 0, [0f], 1, 0).ShouldBeTrue();
        _device.State.ShouldBe(DeviceState.Live);
    }

    [Fact]
    public void A_window_that_was_cut_off_may_come_back_for_five_seconds_and_another_only_then()
    {
        var lease = Join("w1");
        _device.Leave(lease, DeviceState.WindowClosed);
        _device.State.ShouldBe(DeviceState.WindowClosed);
        _device.Join("w2", Mono, takeOver: false, Nothing).ShouldBeNull();
        _device.Join("w1", Mono, takeOver: false, Nothing).ShouldNotBeNull();
        _device.Leave(Join("w1"), DeviceState.WindowClosed);
        _time.Advance(TimeSpan.FromSeconds(6));
        _device.Join("w2", Mono, takeOver: false, Nothing).ShouldNotBeNull();
    }

    [Fact]
    public void Whoever_is_taken_over_from_is_told_once_and_counts_no_longer()
    {
        var told = 0;
        var first = _device.Join("w1", Mono, takeOver: false, () => told++)!;
        var second = _device.Join("w2", Mono, takeOver: true, Nothing)!;
        told.ShouldBe(1);
        _device.Write(first, 0, [0f], 1, 0).ShouldBeFalse();
        _device.Leave(first, DeviceState.Unplugged);
        _device.State.ShouldBe(DeviceState.Live);
        _device.Write(second, 0, [0f], 1, 0).ShouldBeTrue();
        _device.Window.ShouldBe("w2");
    }

    [Fact]
    public void An_excuse_counts_only_while_nobody_gives_it()
    {
        _device.Excuse(DeviceState.Refused);
        _device.State.ShouldBe(DeviceState.Refused);
        var lease = Join("w1");
        _device.Excuse(DeviceState.Unplugged);
        _device.State.ShouldBe(DeviceState.Live);
        _device.Leave(lease, DeviceState.Unplugged);
        _device.State.ShouldBe(DeviceState.Unplugged);
    }

    private object Join(string window) => _device.Join(window, Mono, takeOver: false, Nothing)!;

    private static void Nothing()
    {
    }
}
