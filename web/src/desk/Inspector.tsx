import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import type { Constants } from "../app/api";
import { CameraPanel } from "./camera/CameraPanel";
import { GripPanel } from "./grip/GripPanel";
import { FigurePanel } from "./place/FigurePanel";
import { MeterPanel } from "./meter/MeterPanel";
import { RoomPanel } from "./place/RoomPanel";
import { setDesk, useDesk, type Panel } from "./store";
import { UnitPanel } from "./units/UnitPanel";

const PANELS: [Panel, string][] = [
  ["unit", "Unit"],
  ["grip", "Grip"],
  ["camera", "Camera"],
  ["figure", "Subject"],
  ["room", "Room"],
  ["meter", "Meter"],
];

export function Inspector({ constants }: { constants: Constants }) {
  const panel = useDesk((d) => d.panel);
  return (
    <TabGroup
      selectedIndex={PANELS.findIndex(([p]) => p === panel)}
      onChange={(at) => setDesk({ panel: PANELS[at]![0] })}
      className="px-3 pb-2"
    >
      <TabList className="mb-2 flex gap-1">
        {PANELS.map(([key, label]) => (
          <Tab
            key={key}
            className="h-10 flex-1 border-b-2 text-xs border-transparent text-quiet data-selected:border-lamp data-selected:text-paper"
          >
            {label}
          </Tab>
        ))}
      </TabList>
      <TabPanels>
        <TabPanel>
          <UnitPanel constants={constants} />
        </TabPanel>
        <TabPanel>
          <GripPanel constants={constants} />
        </TabPanel>
        <TabPanel>
          <CameraPanel dials={constants.dials} />
        </TabPanel>
        <TabPanel>
          <FigurePanel constants={constants} />
        </TabPanel>
        <TabPanel>
          <RoomPanel constants={constants} />
        </TabPanel>
        <TabPanel>
          <MeterPanel constants={constants} />
        </TabPanel>
      </TabPanels>
    </TabGroup>
  );
}
