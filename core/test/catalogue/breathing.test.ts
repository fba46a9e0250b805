import { carriedOut } from './cases';

carriedOut('ba.user-check', 'ba.soap-survey', 'ba.high-pressure', 'ba.facepiece', 'anaes.machine', 'anaes.circle', 'anaes.t-piece', 'anaes.mapleson-a', 'anaes.coaxial-d', 'suit.inflation', 'drysuit.survey'); // prettier-ignore
