<template>
  <div class="empty">
    <h2>Nobody has worked here yet</h2>
    <p class="soft">Hours go here, a crew and a week to a sheet. One of each is enough to begin.</p>
    <ol>
      <li>
        <span>1</span><b>A worker</b><span class="soft">name, trade and wage</span
        ><v-btn class="go" to="/setup?part=workers&add=yes">Add the first worker</v-btn>
      </li>
      <li>
        <span>2</span><b>A job</b><span class="soft">number, customer, how it is billed</span
        ><v-btn to="/jobs?add=yes">Open a job</v-btn>
      </li>
      <li>
        <span>3</span><b>An hour</b><span class="soft">type 8 where the worker meets the day</span
        ><span class="soft">then it is booked</span>
      </li>
    </ol>
  </div>
</template>
