package ironsieve.compile;

import ironsieve.model.Connection.Device;
import ironsieve.model.Posture;
import ironsieve.model.Value;
import ironsieve.region.IndexSet;
import ironsieve.region.Weights;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;

/** The atoms of devices: every pair of a kind (or none known) and a posture is one. */
final class DeviceAxis {

  private final List<Device> devices = new ArrayList<>();

  DeviceAxis(List<String> kinds) {
    List<String> all = new ArrayList<>(kinds);
    if (!all.contains(Device.UNKNOWN_KIND)) {
      all.add(Device.UNKNOWN_KIND);
    }
    for (String kind : all) {
      for (Posture posture : Posture.values()) {
        devices.add(new Device(kind, posture));
      }
    }
  }

  IndexSet atoms(Value value) {
    Value.DeviceClass wanted = (Value.DeviceClass) value;
    BitSet atoms = new BitSet();
    for (int atom = 0; atom < devices.size(); atom++) {
      Device device = devices.get(atom);
      if (wanted.kind().map(device.kind()::equals).orElse(true)
          && wanted.posture().map(device.posture()::equals).orElse(true)) {
        atoms.set(atom);
      }
    }
    return Signatures.set(atoms);
  }

  /** The atom of a device; −1 for a kind the gateway does not know. */
  int atom(Device device) {
    return devices.indexOf(device);
  }

  Device sample(int atom) {
    return devices.get(atom);
  }

  Weights weights() {
    return Weights.ones(devices.size());
  }
}
